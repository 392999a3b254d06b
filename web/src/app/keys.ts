/** Keys: a page says which it knows, the shell lists them under "?". Keys rest while somebody types. */
import { useEffect, useRef } from 'react';

export type KeyMap = Record<string, { does: string; act: (event: KeyboardEvent) => void }>;
const known = new Map<symbol, KeyMap>();

function typing(target: EventTarget | null): boolean {
  return target instanceof HTMLElement && (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName));
}
const ownsEnter = (target: EventTarget | null) => target instanceof HTMLElement && ['BUTTON', 'A', 'INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName);

export function useKeys(map: KeyMap): void {
  const latest = useRef(map);
  latest.current = map;
  useEffect(() => {
    const id = Symbol('keys');
    known.set(id, latest.current);
    const listen = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return;
      known.set(id, latest.current);
      const entry = latest.current[event.key.length === 1 ? event.key.toLowerCase() : event.key];
      if (!entry) return;
      if (document.querySelector('[role="dialog"]')) return;
      if (event.key === 'Enter' ? ownsEnter(event.target) : typing(event.target) && !isTick(event.target)) return;
      event.preventDefault();
      entry.act(event);
    };
    window.addEventListener('keydown', listen);
    return () => {
      known.delete(id);
      window.removeEventListener('keydown', listen);
    };
  }, []);
}

function isTick(target: EventTarget | null): boolean {
  return target instanceof HTMLInputElement && ['checkbox', 'radio'].includes(target.type);
}

export function knownKeys(): [string, string][] {
  return [...known.values()].flatMap((map) => Object.entries(map).map(([key, entry]): [string, string] => [key, entry.does]));
}
