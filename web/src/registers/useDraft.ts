import type { PointDefinition } from '@loka/core/registers';
import { useReducer } from 'react';

export interface DraftState {
  past: PointDefinition[][];
  rows: PointDefinition[];
  future: PointDefinition[][];
}

export type DraftAction =
  | { do: 'change'; rows: PointDefinition[] }
  | { do: 'undo' }
  | { do: 'redo' }
  | { do: 'load'; rows: PointDefinition[] };

const KEPT = 200;

/** The rows after an action; the way back and the way forward are kept with them. */
export function reduceDraft(state: DraftState, action: DraftAction): DraftState {
  const { past, rows, future } = state;
  switch (action.do) {
    case 'change':
      return { past: [...past.slice(-KEPT), rows], rows: action.rows, future: [] };
    case 'undo':
      return past.length === 0
        ? state
        : { past: past.slice(0, -1), rows: past.at(-1) as PointDefinition[], future: [rows, ...future] };
    case 'redo':
      return future.length === 0
        ? state
        : { past: [...past, rows], rows: future[0] as PointDefinition[], future: future.slice(1) };
    case 'load':
      return { past: [], rows: action.rows, future: [] };
  }
}

/** The rows of a map while they are edited, with undo and redo. */
export function useDraft(initial: PointDefinition[]) {
  const [{ past, rows, future }, dispatch] = useReducer(reduceDraft, { past: [], rows: initial, future: [] });
  return {
    rows,
    dirty: past.length > 0,
    canUndo: past.length > 0,
    canRedo: future.length > 0,
    change: (next: PointDefinition[]) => dispatch({ do: 'change', rows: next }),
    undo: () => dispatch({ do: 'undo' }),
    redo: () => dispatch({ do: 'redo' }),
    load: (next: PointDefinition[]) => dispatch({ do: 'load', rows: next }),
  };
}
