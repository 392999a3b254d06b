/** Timers run by the server's clock, so that they keep true time through sleep and reload. */
import { useEffect, useRef, useState } from 'react';

/** The server's time now, from a time it gave and when it was received. */
export function useServerNow(serverNow: string | undefined, running: boolean): number {
  const offset = useRef(0);
  const heard = useRef('');
  const [, tick] = useState(0);
  if (serverNow && heard.current !== serverNow) {
    heard.current = serverNow;
    offset.current = Date.parse(serverNow) - Date.now();
  }
  useEffect(() => {
    if (!running) return;
    const timer = setInterval(() => tick((n) => n + 1), 500);
    return () => clearInterval(timer);
  }, [running]);
  return Date.now() + offset.current;
}

export function minutes(seconds: number): string {
  const s = Math.max(0, Math.round(seconds));
  return `${String(Math.floor(s / 60)).padStart(2, '0')}:${String(s % 60).padStart(2, '0')}`;
}

/** Three short tones; silent where the browser has no sound or was not touched yet. */
export function ring(): void {
  try {
    const audio = new AudioContext();
    for (const k of [0, 1, 2]) {
      const tone = audio.createOscillator();
      const gain = audio.createGain();
      tone.frequency.value = 880;
      gain.gain.setValueAtTime(0.25, audio.currentTime + k * 0.35);
      gain.gain.exponentialRampToValueAtTime(0.001, audio.currentTime + k * 0.35 + 0.25);
      tone.connect(gain).connect(audio.destination);
      tone.start(audio.currentTime + k * 0.35);
      tone.stop(audio.currentTime + k * 0.35 + 0.3);
    }
    setTimeout(() => audio.close(), 2000);
    navigator.vibrate?.([200, 120, 200]);
  } catch {
    // No sound here: the tray shows the end all the same.
  }
}
