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

/** What moves with the clock, and so is another path each minute. */
const MOVES = /[?&]from=\d/;
const keys = new Map<string, string>();
const paths = new Map<string, string>();
/** Keys that were given back, by what is asked. */
const free = new Map<string, string[]>();

/**
 * The key under which the answer of a path is kept. The library that keeps them remembers a little of each key for good, so
 * paths that move with the clock share keys, one after the other; a wall that stands for weeks has no more of them than a
 * screen that is looked at for minutes.
 */
export function keyOf(path: string): string {
  if (!MOVES.test(path)) return path;
  const known = keys.get(path);
  if (known !== undefined) return known;
  const asked = path.slice(0, path.indexOf('?'));
  const key = free.get(asked)?.pop() ?? `${asked}?kept=${paths.size + 1}`;
  keys.set(path, key);
  paths.set(key, path);
  // Until somebody holds it, it is one that nobody looks at.
  if (!holders.has(path)) leftAt.set(path, Date.now());
  return key;
}

/** The path whose answer is kept under a key. */
export const pathOf = (key: string): string => paths.get(key) ?? key;

/**
 * Forgets answers that nobody has looked at for some minutes. A period that goes on with the clock is another path each
 * minute: a screen that stands for days would keep all of them.
 * @param cache of answers by key
 * @returns how many were forgotten
 */
export function forgetUnused(cache: { delete: (key: string) => unknown }, now: number): number {
  let forgotten = 0;
  for (const [path, at] of leftAt) {
    // A clock that was set back must not keep them for good.
    if (Math.abs(now - at) < KEPT) continue;
    leftAt.delete(path);
    const key = keys.get(path);
    cache.delete(key ?? path);
    if (key !== undefined) giveBack(path, key);
    forgotten++;
  }
  return forgotten;
}

function giveBack(path: string, key: string): void {
  keys.delete(path);
  const asked = path.slice(0, path.indexOf('?'));
  const others = free.get(asked);
  if (others) others.push(key);
  else free.set(asked, [key]);
}
