import { useSyncExternalStore } from 'react';

/** The place that the pointer is on, wherever it is drawn: band, bar, row and spine light up together. */
let lit: number | null = null;
const listeners = new Set<() => void>();

export function light(nodeId: number | null): void {
  if (nodeId === lit) return;
  lit = nodeId;
  for (const listener of listeners) listener();
}

const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

/** Whether a place is lit; redraws only when that changes. */
export const useIsLit = (nodeId: number): boolean => useSyncExternalStore(subscribe, () => lit === nodeId);

/** The place that is lit. */
export const useLit = (): number | null => useSyncExternalStore(subscribe, () => lit);
