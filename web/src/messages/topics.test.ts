import type { TopicSeen } from '@loka/contract/messages';
import { newMessage } from '@loka/core/messages';
import { givenBy } from './givenBy.js';
import { contactWords, guessQuantity, nameFrom, timeIn } from './guess.js';
import { leavesOf, topicTree } from './topicTree.js';

const seen = (topic: string): TopicSeen => ({
  topic,
  payload: '1',
  cut: false,
  at: 0,
  count: 1,
  everyMs: null,
  retained: false,
});

it('topics become a tree by their levels; a level may carry a value and lead further as well', () => {
  const tree = topicTree([seen('a/b/c'), seen('a'), seen('z'), seen('a/b/d')]);
  expect(tree.map((n) => [n.level, n.topics, n.seen !== null])).toEqual([
    ['a', 3, true],
    ['z', 1, true],
  ]);
  expect(tree[0]?.children[0]).toMatchObject({ level: 'b', path: 'a/b', seen: null, topics: 2 });
});
it('only those that hold what is sought, and empty levels are levels', () => {
  expect(topicTree([seen('plug-1/report'), seen('meter')], 'PLUG').map((n) => n.level)).toEqual(['plug-1']);
  expect(topicTree([seen('/a')])[0]).toMatchObject({ level: '', children: [{ level: 'a' }] });
});
it('lists the values of a payload with the way to each; a plain number has none', () => {
  expect(leavesOf('{"a":{"b":[1,true]},"c":null}')).toEqual([
    { steps: ['a', 'b', '0'], value: 1 },
    { steps: ['a', 'b', '1'], value: true },
    { steps: ['c'], value: null },
  ]);
  expect(leavesOf('42')).toBeNull();
  expect(leavesOf('{"a":')).toBeNull();
  expect(leavesOf(JSON.stringify(Array.from({ length: 1000 }, (_, i) => i)))).toHaveLength(400);
});
it.each([
  ['volts', 230, 'voltage', 'V'],
  ['amps', 1, 'current', 'A'],
  ['watts', 1, 'active-power', 'W'],
  ['power_kw', 1, 'active-power', 'kW'],
  ['total_mwh', 1, 'energy-import', 'MWh'],
  ['kwh', 1, 'energy-import', 'kWh'],
  ['power_factor', 1, 'power-factor', ''],
  ['temperature', 1, 'temperature', '°C'],
  ['closed', true, 'contact-state', ''],
  ['flow', 3, 'other', ''],
] as const)('by its name, %s is %s', (name, value, quantity, unit) =>
  expect(guessQuantity(name, value)).toEqual({ quantity, unit }),
);
it.each([
  ['ON', 'ON', 'OFF'],
  ['off', 'on', 'off'],
  ['Open', 'Closed', 'Open'],
  ['true', 'true', 'false'],
  // Which way round a contact reads is not guessed from a word that does not say it.
  ['standby', '', ''],
  ['1', '', ''],
])('of a contact that says %j, closed is %j and open %j', (came, on, off) =>
  expect(contactWords(came)).toEqual({ on, off }),
);
it('names come from the pointer, or from the last level of the topic', () => {
  expect(nameFrom(['mains', 'volts'], 'x')).toBe('Mains volts');
  expect(nameFrom([], 'site/plug_1')).toBe('Plug 1');
  expect(nameFrom([''], '')).toBe('Value');
});
it('the instant inside a payload is found by being near the time at which it came', () => {
  const now = Date.UTC(2026, 10, 25, 12);
  expect(timeIn('{"watts":90,"at":"2026-11-25T11:59:58.000Z"}', now)).toBe('/at');
  expect(timeIn(`{"report":{"s":${now / 1000 - 5}}}`, now)).toBe('/report/s');
  expect(timeIn(`{"ms":"${now}"}`, now)).toBe('/ms');
  // The date of making, a counter, and a payload that is no object are none.
  for (const payload of ['{"made":"2020-01-01T00:00:00Z"}', '{"counter":1764072}', '17', 'x'])
    expect(timeIn(payload, now)).toBe('');
});
it('what a row gives is what the last payload on its topic gives, or why it gives nothing', () => {
  const definition = newMessage({
    key: 'p',
    topic: 'a',
    pointer: '/kw',
    unit: 'kW',
    quantity: 'active-power',
  });
  expect(givenBy(definition, { ...seen('a'), payload: '{"kw":1.5}' })).toMatchObject({ value: 1500 });
  expect(givenBy(definition, { ...seen('a'), payload: '{"w":1}' })).toEqual({
    fault: expect.stringContaining('nothing at “/kw”'),
  });
  expect(givenBy(definition, { ...seen('a'), payload: '{"kw":1.5}', cut: true })).toHaveProperty('fault');
});
