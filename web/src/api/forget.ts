import { useEffect } from 'react';

/** How many look at an answer now, and since when nobody does, by its path. */
const holders = new Map<string, number>();
const leftAt = new Map<string, number>();

/** Somebody who comes back within this finds what was there, ms. */
const KEPT = 5 * 60_000;

/** Holds the answer of a path as long as the component is there. */
export function useHeld(path: string | null): void {
  useEffect(() => (path === null ? undefined : hold(path)), [path]);
}

/** @returns how to let go of it */
export function hold(path: string): () => void {
  holders.set(path, (holders.get(path) ?? 0) + 1);
  leftAt.delete(path);
  return () => {
    const others = (holders.get(path) ?? 1) - 1;
    if (others > 0) holders.set(path, others);
    else {
      holders.delete(path);
      leftAt.set(path, Date.now());
    }
  };
}

/**
 * Forgets answers that nobody has looked at for some minutes. A period that goes on with the clock is another path each
 * minute: a screen that stands for days would keep all of them.
 * @param cache of answers by path
 * @returns how many were forgotten
 */
export function forgetUnused(cache: { delete: (path: string) => unknown }, now: number): number {
  let forgotten = 0;
  for (const [path, at] of leftAt) {
    // A clock that was set back must not keep them for good.
    if (Math.abs(now - at) < KEPT) continue;
    leftAt.delete(path);
    cache.delete(path);
    forgotten++;
  }
  return forgotten;
}
