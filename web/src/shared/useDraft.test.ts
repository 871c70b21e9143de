import fc from 'fast-check';
import { reduceDraft, type DraftState } from './useDraft.js';

const named = (name: string) => [name];
const start: DraftState<string[]> = { past: [], now: named('0'), future: [] };

it('undo and redo go back and forth over all changes', () => {
  const changed = ['1', '2', '3'].reduce(
    (state, name) => reduceDraft(state, { do: 'change', to: named(name) }),
    start,
  );
  const back = reduceDraft(reduceDraft(changed, { do: 'undo' }), { do: 'undo' });
  expect(back.now[0]).toBe('1');
  expect(reduceDraft(back, { do: 'redo' }).now[0]).toBe('2');
  expect(reduceDraft(start, { do: 'undo' })).toBe(start);
  expect(reduceDraft(start, { do: 'redo' })).toBe(start);
});
it('a change after an undo ends the way forward', () => {
  const state = reduceDraft(
    reduceDraft(reduceDraft(start, { do: 'change', to: named('1') }), { do: 'undo' }),
    { do: 'change', to: named('9') },
  );
  expect(state.future).toEqual([]);
  expect(reduceDraft(state, { do: 'undo' }).now[0]).toBe('0');
});
it('as many undos as changes lead back to the beginning, whatever was done between', () => {
  const action = fc.oneof(
    fc.record({ do: fc.constant('change' as const), to: fc.string().map(named) }),
    fc.constant({ do: 'undo' as const }),
    fc.constant({ do: 'redo' as const }),
  );
  fc.assert(
    fc.property(fc.array(action, { maxLength: 40 }), (actions) => {
      let state = actions.reduce((before, done) => reduceDraft(before, done), start);
      const ahead = state.future.length;
      const steps = state.past.length;
      for (let i = 0; i < steps; i++) state = reduceDraft(state, { do: 'undo' });
      expect(state.now).toEqual(start.now);
      expect(state.future).toHaveLength(ahead + steps);
    }),
  );
});
