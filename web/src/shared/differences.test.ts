import { differences } from './differences.js';

const fields = { name: '', limit: 0, note: '', inputs: [], version: 1 };

it.each([
  ['the same', { name: 'A', limit: 1 }, { name: 'A', limit: 1 }, []],
  ['another limit', { name: 'A', limit: 1 }, { name: 'A', limit: 2 }, ['limit']],
  ['nothing and null are one', { note: undefined }, { note: null }, []],
  ['nothing and an empty text are one', { note: '' }, { note: null }, []],
  ['nought is something', { limit: undefined }, { limit: 0 }, ['limit']],
  ['no is something', { name: false }, { name: null }, ['name']],
  ['lists by what is in them', { inputs: [{ pointId: 1 }] }, { inputs: [{ pointId: 2 }] }, ['inputs']],
  ['what the form does not have', { name: 'A' }, { name: 'A', removedAt: 5 }, []],
])('%s', (_, mine, theirs, expected) =>
  expect(differences(mine, theirs, fields).map((d) => d.field)).toEqual(expected),
);
