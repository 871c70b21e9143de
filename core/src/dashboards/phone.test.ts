import fc from 'fast-check';
import { newElement } from './element.js';
import { phoneAway, phoneFor, phoneLines, phoneMoved, phoneWith, type PhoneArrangement } from './phone.js';

const elements = [
  newElement('power', 'number', [], { x: 0, y: 0, w: 3, h: 2 }),
  newElement('dial', 'dial', [], { x: 3, y: 0, w: 3, h: 4 }),
  newElement('level', 'level', [], { x: 6, y: 0, w: 2, h: 4 }),
  newElement('trend', 'trend', [], { x: 0, y: 4, w: 6, h: 5 }),
];

it('begins in the order in which the sheet is read', () => {
  const phone = phoneFor([...elements].reverse());
  expect(phone.shown.map((p) => p.id)).toEqual(['power', 'dial', 'level', 'trend']);
  expect(phone.away).toEqual([]);
});

it('two halves that follow one another stand side by side, three do not', () => {
  const place = (id: string, half: boolean) => ({ id, half });
  const lines = (list: [string, boolean][]) =>
    phoneLines(list.map(([id, half]) => place(id, half))).map((line) => line.map((p) => p.id).join(' '));
  expect(
    lines([
      ['a', true],
      ['b', true],
      ['c', true],
    ]),
  ).toEqual(['a b', 'c']);
  expect(
    lines([
      ['a', true],
      ['b', false],
      ['c', true],
      ['d', true],
    ]),
  ).toEqual(['a', 'b', 'c d']);
  expect(lines([])).toEqual([]);
});

it('what was put away stays away; what is gone is left out; what is new comes last', () => {
  const phone: PhoneArrangement = {
    shown: [
      { id: 'trend', half: false },
      { id: 'gone', half: true },
      { id: 'power', half: true },
    ],
    away: ['level', 'gone too'],
  };
  expect(phoneWith(phone, elements)).toEqual({
    shown: [
      { id: 'trend', half: false },
      { id: 'power', half: true },
      { id: 'dial', half: true },
    ],
    away: ['level'],
  });
});

it('moving and putting away keep every element once', () =>
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.boolean(), fc.nat(3), fc.integer({ min: -2, max: 8 }))), (steps) => {
      let phone = phoneFor(elements);
      for (const [up, which, to] of steps) {
        const { id } = elements[which] as (typeof elements)[number];
        phone = up ? phoneMoved(phone, id, to) : phoneAway(phone, id);
        const all = [...phone.shown.map((p) => p.id), ...phone.away];
        expect([...all].sort()).toEqual(['dial', 'level', 'power', 'trend']);
        if (up)
          expect(phone.shown.findIndex((p) => p.id === id)).toBe(
            Math.min(Math.max(0, to), phone.shown.length - 1),
          );
        else expect(phone.away.at(-1)).toBe(id);
      }
    }),
  ));
