import { hoursOfFile } from './index.js';

const year = (line: (h: number) => string, hours = 8760) =>
  Array.from({ length: hours }, (_, h) => line(h)).join('\n');
const first = (text: string) => {
  const got = hoursOfFile(text);
  return 'hours' in got ? got.hours.slice(0, 3) : got.fault;
};

it('a line an hour: alone, behind a time, with a heading, with a decimal comma', () => {
  expect(first(year((h) => String(h % 24)))).toEqual([0, 1, 2]);
  expect(first(`time,W\r\n${year((h) => `2025-01-01 ${h},${h % 24}.5`)}`)).toEqual([0.5, 1.5, 2.5]);
  expect(first(`Zeit;W\n${year((h) => `${h};${h % 24},5`)}\n\n`)).toEqual([0.5, 1.5, 2.5]);
  expect(first(year((h) => `${h % 24},25`))).toEqual([0.25, 1.25, 2.25]);
});

it('of a leap year 29 February is left out', () => {
  const got = hoursOfFile(year((h) => (h >= 1416 && h < 1440 ? '999' : '100'), 8784));
  expect('hours' in got && Math.max(...got.hours)).toBe(100);
});

it('what is no such text is told', () => {
  expect(first('')).toMatch(/8760 hours, a line each; this has 0/);
  expect(first(year(() => '5', 100))).toMatch(/this has 100/);
  expect(first(year((h) => (h === 4000 ? 'x,–' : '5')))).toBe('Line 4001 ends in no number: “x,–”.');
  expect(first(`\n\n${year((h) => (h === 4000 ? 'x' : '5'))}`)).toMatch(/^Line 4003 /);
  expect(first(year((h) => (h === 4000 ? '5,' : '5,20')))).toMatch(/Line 4001/);
  expect(first(year(() => '-500'))).toMatch(/below zero/);
  expect(first(year(() => '0.8'))).toMatch(/look like kilowatts/);
  expect(first(year(() => '80000'))).toMatch(/watts for one kilowatt/);
});
