/** Keys: a page says which it knows, the shell lists them under "?". Keys rest while somebody types. */
import { useEffect, useRef } from 'react';

export type KeyMap = Record<string, { does: string; act: (event: KeyboardEvent) => void }>;
const known = new Map<symbol, { current: KeyMap }>();
/** The maps of the shell, which are asked when no page has the key. */
const behind = new Set<symbol>();

function typing(target: EventTarget | null): boolean {
  return target instanceof HTMLElement && (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName));
}
const ownsEnter = (target: EventTarget | null) => target instanceof HTMLElement && ['BUTTON', 'A', 'INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName);

/** ``shell``: keys that hold on every page, where it has no other use for them. */
export function useKeys(map: KeyMap, shell = false): void {
  const latest = useRef(map);
  latest.current = map;
  useEffect(() => {
    const id = Symbol('keys');
    known.set(id, latest);
    if (shell) behind.add(id);
    const listen = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return;
      const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
      const entry = latest.current[key];
      if (!entry) return;
      if (document.querySelector('[role="dialog"]')) return;
      if (shell && [...known].some(([other, map]) => !behind.has(other) && map.current[key])) return;
      if (event.key === 'Enter' ? ownsEnter(event.target) : typing(event.target) && !isTick(event.target)) return;
      event.preventDefault();
      entry.act(event);
    };
    window.addEventListener('keydown', listen);
    return () => {
      known.delete(id);
      behind.delete(id);
      window.removeEventListener('keydown', listen);
    };
  }, [shell]);
}

function isTick(target: EventTarget | null): boolean {
  return target instanceof HTMLInputElement && ['checkbox', 'radio'].includes(target.type);
}

export function knownKeys(): [string, string][] {
  return [...known.values()].flatMap((map) => Object.entries(map.current).map(([key, entry]): [string, string] => [key, entry.does]));
}
