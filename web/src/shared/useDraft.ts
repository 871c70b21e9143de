import { useEffect, useReducer } from 'react';

/** Something under edit, with the way back and the way forward. */
export interface DraftState<T> {
  past: T[];
  now: T;
  future: T[];
}

export type DraftAction<T> = { do: 'change'; to: T } | { do: 'undo' } | { do: 'redo' };

const KEPT = 200;

/** The draft after an action. */
export function reduceDraft<T>(state: DraftState<T>, action: DraftAction<T>): DraftState<T> {
  const { past, now, future } = state;
  switch (action.do) {
    case 'change':
      return { past: [...past.slice(-KEPT), now], now: action.to, future: [] };
    case 'undo':
      return past.length === 0
        ? state
        : { past: past.slice(0, -1), now: past.at(-1) as T, future: [now, ...future] };
    case 'redo':
      return future.length === 0
        ? state
        : { past: [...past, now], now: future[0] as T, future: future.slice(1) };
  }
}

export type Draft<T> = ReturnType<typeof useDraft<T>>;

/** Something while it is edited, with undo and redo; Ctrl Z and Ctrl Shift Z do the same. */
export function useDraft<T>(initial: T) {
  const [{ past, now, future }, dispatch] = useReducer(reduceDraft<T>, {
    past: [],
    now: initial,
    future: [],
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z') return;
      // A dialog in front of the draft has fields of its own.
      if (event.target instanceof Element && event.target.closest('[role="dialog"]')) return;
      event.preventDefault();
      dispatch({ do: event.shiftKey ? 'redo' : 'undo' });
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
  return {
    now,
    dirty: past.length > 0,
    canUndo: past.length > 0,
    canRedo: future.length > 0,
    change: (to: T) => dispatch({ do: 'change', to }),
    undo: () => dispatch({ do: 'undo' }),
    redo: () => dispatch({ do: 'redo' }),
  };
}
