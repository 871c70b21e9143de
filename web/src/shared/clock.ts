import { useSyncExternalStore } from 'react';

const listeners = new Map<number, Set<() => void>>();

/** Now, in steps of `stepMs`: redraws once a step. */
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
    () => Math.floor(Date.now() / stepMs) * stepMs,
  );
}
