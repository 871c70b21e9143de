import { canBeSent, isWrittenByHand } from './basics.js';

type Written = Parameters<typeof isWrittenByHand>[0];
const point = (more: Partial<Written>): Written => ({
  access: 'write',
  quantity: 'other',
  kind: 'holding',
  type: 'uint16',
  ...more,
});

// A contact moves a load: it goes by a switch, which reads it back and which a cut-off can lock.
it.each<[string, Partial<Written>, boolean, boolean]>([
  ['a number that is only written', {}, true, true],
  ['a number that is also read', { access: 'read-write', quantity: 'state-of-charge' }, true, true],
  ['a named state', { names: [{ value: 1, name: 'eco' }] }, true, true],
  ['a number in a message', { kind: 'message' }, true, true],
  ['what always sends the same', { send: 1 }, false, true],
  ['a coil', { kind: 'coil', type: 'bool' }, false, false],
  ['a coil without a type', { kind: 'coil' }, false, false],
  ['a bit of a word', { type: 'bool' }, false, false],
  ['a contact in a register', { quantity: 'contact-state' }, false, false],
  ['a contact in a message', { kind: 'message', on: 'close' }, false, false],
  ['a text', { type: 'string' }, false, false],
  ['what is read', { access: 'read' }, false, false],
  ['a setting', { access: 'setting' }, false, false],
])('%s: typed %p, sent %p', (_, more, typed, sent) => {
  expect(isWrittenByHand(point(more))).toBe(typed);
  expect(canBeSent(point(more))).toBe(sent);
});
