import { useEffect, useId } from 'react';
import type { Location } from 'react-router';

/** Whether work that is not saved is still there after going somewhere. */
export type Survives = (to: Location, from: Location) => boolean;

interface Unsaved {
  /** For example “the changes to Main meter”. */
  what: string;
  survives: Survives;
}

const all = new Map<string, Unsaved>();

/** A page that stays open keeps what is typed in it, whatever else of the address changes. */
export const onThisPage: Survives = (to, from) => to.pathname === from.pathname;

/** Says that something is not saved, or with null that nothing is: leaving and reloading the page ask first. */
export function useUnsaved(what: string | null, survives: Survives = onThisPage): void {
  const id = useId();
  useEffect(() => {
    if (what === null) return;
    all.set(id, { what, survives });
    return () => void all.delete(id);
  }, [id, what, survives]);
}

/** What would be lost by going somewhere. */
export const lostByGoing = (to: Location, from: Location): string[] =>
  [...all.values()].filter((one) => !one.survives(to, from)).map((one) => one.what);

/** Forgets what a navigation that goes ahead leaves behind; its page may be taken down only when the next one has been loaded. */
export function letGo(to: Location, from: Location): void {
  for (const [id, one] of all) if (!one.survives(to, from)) all.delete(id);
}

/** Whether anything would be lost by leaving Loka, or reloading it. */
export const anythingUnsaved = (): boolean => all.size > 0;

/** State of a navigation that follows on saving or on removing: what is still held is not lost by it. */
export const DONE = { done: true };
export const isDone = (to: Location): boolean => (to.state as { done?: boolean } | null)?.done === true;
