import { useSyncExternalStore } from 'react';

/** How far the server's clock is ahead of this one's by each of its last beats, ms. */
let beats: number[] = [];
const BEATS = 3;
/** Less than this is the way from there to here. */
const SLIGHT = 1000;

/**
 * Takes in what the server's clock said, when it arrived at `here`. A beat that was held up on its way makes the
 * server look late, never early, so the largest of the last ones counts.
 */
export function noteBeat(there: number, here = Date.now()): void {
  beats = [...beats.slice(1 - BEATS), there - here];
}

/** Now by the clock of the server, which stamps the readings: a phone's may be wrong, and ages would be as well. */
export function serverNow(here = Date.now()): number {
  const ahead = beats.length === 0 ? 0 : Math.max(...beats);
  return here + (Math.abs(ahead) < SLIGHT ? 0 : ahead);
}

const listeners = new Map<number, Set<() => void>>();

/** Now by the server's clock, in steps of `stepMs`: redraws once a step. */
export function useNow(stepMs: number): number {
  return useSyncExternalStore(
    (listener) => {
      const set = listeners.get(stepMs) ?? new Set();
      listeners.set(stepMs, set.add(listener));
      const timer = setInterval(listener, Math.min(stepMs, 1000));
      return () => {
        clearInterval(timer);
        set.delete(listener);
      };
    },
    () => Math.floor(serverNow() / stepMs) * stepMs,
  );
}
