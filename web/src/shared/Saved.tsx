import { siteClock } from '@loka/core/time';
import type { SaveState } from './useAutosave.js';

/** How far what is edited is kept. */
export function Saved({ state, zone }: { state: SaveState<unknown>; zone: string }) {
  return (
    <span role="status" className={state.kind === 'waiting' || state.kind === 'refused' ? 'warn' : 'muted'}>
      {state.kind === 'saved' && `editing, last kept ${siteClock(zone, state.at, 'HH:mm:ss')}`}
      {state.kind === 'saving' && 'keeping …'}
      {state.kind === 'waiting' && `not saved yet, trying again every few seconds: ${state.why}`}
      {state.kind === 'refused' && `not kept: ${state.why}`}
      {state.kind === 'conflict' && 'not saved: someone else has changed it'}
    </span>
  );
}
