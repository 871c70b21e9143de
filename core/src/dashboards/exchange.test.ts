import fc from 'fast-check';
import { contentOf } from './content.js';
import { newElement } from './element.js';
import { exportText, importText, type ExchangeFacts } from './exchange.js';
import { phoneAway } from './phone.js';

const FACTS: ExchangeFacts = {
  nodes: [
    { id: 1, parentId: null, name: 'Supply' },
    { id: 2, parentId: 1, name: 'Main board' },
    { id: 3, parentId: 2, name: 'Oven' },
    { id: 4, parentId: 2, name: 'Lighting' },
    { id: 5, parentId: 1, name: 'Lighting' },
  ],
  points: [
    { id: 10, nodeId: 1, key: 'v1', quantity: 'voltage', phase: 'L1', deviceName: 'Main meter' },
    { id: 11, nodeId: 1, key: 'v2', quantity: 'voltage', phase: 'L2', deviceName: 'Main meter' },
  ],
  switches: [{ id: 20, nodeId: 3, name: 'Oven' }],
  plans: [{ id: 30, name: 'Ground floor' }],
  pictures: [{ id: 40, name: 'Sign' }],
};
/** The same installation with other numbers, as it would be made again elsewhere; another meter reads the voltage. */
const ELSEWHERE: ExchangeFacts = {
  nodes: FACTS.nodes.map((n) => ({ ...n, id: n.id + 100, parentId: n.parentId && n.parentId + 100 })),
  points: [
    { id: 71, nodeId: 101, key: 'u-b', quantity: 'voltage', phase: 'L2', deviceName: 'New meter' },
    { id: 70, nodeId: 101, key: 'u-a', quantity: 'voltage', phase: 'L1', deviceName: 'New meter' },
  ],
  switches: [{ id: 80, nodeId: 103, name: 'Oven' }],
  plans: [{ id: 90, name: 'Ground floor' }],
  pictures: [{ id: 91, name: 'Sign' }],
};
const CONTENT = contentOf([
  newElement(
    'a',
    'number',
    [{ of: 'power', id: 3 }],
    { x: 0, y: 0, w: 3, h: 2 },
    { title: 'Oven', digits: 2 },
  ),
  newElement('b', 'dial', [{ of: 'point', id: 10 }], { x: 3, y: 0, w: 3, h: 4 }, { band: [207, 253] }),
  newElement('c', 'switch', [{ of: 'switch', id: 20 }], { x: 6, y: 0, w: 4, h: 2 }),
  newElement('d', 'ranking', [{ of: 'place', id: 4 }], { x: 0, y: 4, w: 3, h: 5 }, { span: 'today' }),
  newElement('e', 'plan', [{ of: 'plan', id: 30 }], { x: 4, y: 4, w: 5, h: 6 }),
  newElement('f', 'picture', [{ of: 'picture', id: 40 }], { x: 9, y: 4, w: 3, h: 4 }),
]);
const lines = (text: string, change: (line: string) => string) => text.split('\n').map(change).join('\n');

it('comes back as it was in the same installation, with its phone', () => {
  const content = { ...CONTENT, phone: phoneAway(CONTENT.phone, 'b') };
  expect(importText(exportText('Day', content, FACTS), FACTS)).toEqual({
    ok: true,
    name: 'Day',
    content,
    notes: [],
  });
});

it('elsewhere it shows what is called the same, whatever its number and its meter', () => {
  const got = importText(exportText('Day', CONTENT, FACTS), ELSEWHERE);
  expect(got.ok && got.content.elements.map((e) => e.shows)).toEqual([
    [{ of: 'power', id: 103 }],
    [{ of: 'point', id: 70 }],
    [{ of: 'switch', id: 80 }],
    [{ of: 'place', id: 104 }],
    [{ of: 'plan', id: 90 }],
    [{ of: 'picture', id: 91 }],
  ]);
});

it('what is not there is told by its line, and its element comes without it', () => {
  const text = exportText('Day', CONTENT, FACTS);
  const got = importText(text, { nodes: [], points: [], switches: [], plans: [], pictures: [] });
  expect(got.ok && got.content.elements.map((e) => e.shows)).toEqual([[], [], [], [], [], []]);
  const told = got.ok ? got.notes : [];
  expect(told.map((n) => n.says)).toEqual([
    'There is no “Oven” here.',
    'There is no “v1” of Main meter at “Supply” here.',
    'There is no switch “Oven” here.',
    'There is no “Lighting” here.',
    'There is no floor plan “Ground floor” here.',
    'There is no picture “Sign” here.',
  ]);
  // The line is where the source begins.
  for (const { line } of told) expect(text.split('\n')[line - 1]?.trim()).toBe('{');
});

it('a name that two places have is taken only with its path', () => {
  const text = exportText('Day', CONTENT, FACTS);
  const other = { ...FACTS, nodes: FACTS.nodes.map((n) => (n.id === 2 ? { ...n, name: 'Board' } : n)) };
  const got = importText(text, other);
  expect(got.ok && got.notes.map((n) => n.says)).toEqual(['There is no “Lighting” here.']);
});

it('an unknown element, a wrong spot and a period that is none are told by their lines, all at once, and nothing is taken', () => {
  const text = lines(exportText('Day', CONTENT, FACTS), (line) =>
    line
      .replace('"kind": "number"', '"kind": "waterfall"')
      .replace('"x": 6', '"x": 60')
      .replace('"span": "today"', '"span": "fortnight"'),
  );
  const lineOf = (part: string) => text.split('\n').findIndex((l) => l.includes(part)) + 1;
  const got = importText(text, FACTS);
  expect(got.ok ? [] : got.faults.map((f) => [f.line, f.says.slice(0, 30)])).toEqual([
    [lineOf('waterfall'), 'Loka has no element “waterfall'],
    [lineOf('"x": 60'), 'Its column x is a whole number'],
    [lineOf('fortnight'), 'There is no period “fortnight”'],
  ]);
});

it.each([
  [
    'another version',
    (t: string) => t.replace('"version": 1', '"version": 7'),
    3,
    /version 7; this Loka reads version 1/,
  ],
  ['another thing', () => '{"a": 1}', 1, /not a dashboard/],
  ['no JSON', () => '{\n"format": "loka-dashboard",\n oh }', 3, /not JSON/],
  ['nothing', () => '', 1, /not JSON|empty/],
  ['a band upside down', (t: string) => t.replace('207,', '907,'), null, /lower one first/],
  ['two of one id', (t: string) => t.replace('"id": "b"', '"id": "a"'), null, /Two elements have the id “a”/],
  ['a tower of brackets', () => '['.repeat(900_000), 1, /nested|not JSON/],
  ['a text of two megabytes', () => ' '.repeat(2_000_000), 1, /megabyte/],
])('%s is refused', (_, change, line, says) => {
  const got = importText(change(exportText('Day', CONTENT, FACTS)), FACTS);
  expect(got.ok).toBe(false);
  const [fault] = got.ok ? [] : got.faults;
  if (line !== null) expect(fault?.line).toBe(line);
  expect(fault?.says).toMatch(says);
});

it('no JSON text whatever makes it throw', () =>
  fc.assert(
    fc.property(fc.oneof(fc.json(), fc.string()), (text) => {
      expect(typeof importText(text, FACTS).ok).toBe('boolean');
      const nested = JSON.stringify({
        format: 'loka-dashboard',
        version: 1,
        name: 'x',
        elements: [text],
        phone: text,
      });
      expect(importText(nested, FACTS).ok).toBe(false);
    }),
  ));

it('members of any kind in an element are taken or refused, and never throw', () =>
  fc.assert(
    fc.property(
      fc.record({
        id: fc.anything(),
        kind: fc.constantFrom('number', 'dial', 'trend', 7, null),
        spot: fc.anything(),
        shows: fc.anything(),
        title: fc.anything(),
        band: fc.anything(),
        digits: fc.anything(),
        span: fc.anything(),
      }),
      fc.anything(),
      (element, phone) => {
        let text: string;
        try {
          text = JSON.stringify({
            format: 'loka-dashboard',
            version: 1,
            name: 'x',
            elements: [element],
            phone,
          });
        } catch {
          return; // a bigint, or a ring: no file has that
        }
        expect(typeof importText(text, FACTS).ok).toBe('boolean');
      },
    ),
  ));
