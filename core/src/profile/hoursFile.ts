import { HOURS_OF_YEAR } from './whatIf.js';

/** The hours of a leap year that are left out: those of 29 February. */
const LEAP = { first: 59 * 24, count: 24 };
/** W for a kW of peak power: more than this no plant gives, less than that at its highest is in kW. */
const MOST = 2000;
const LEAST = 10;

/**
 * What a kilowatt of peak power gives in each hour of a year, W, out of a text: a line an hour, the last value of the line
 * counts; lines before the first number (a heading) are left out.
 * @returns a fault in words where it is no such text
 */
export function hoursOfFile(text: string): { hours: number[] } | { fault: string } {
  const lines = text
    .split(/\r\n|\n|\r/)
    .map((line, i) => ({ line, number: i + 1, value: lastValue(line) }))
    .filter(({ line }) => line.trim() !== '');
  const first = lines.findIndex(({ value }) => !Number.isNaN(value));
  const told = first < 0 ? [] : lines.slice(first);
  const hours = told.map(({ value }) => value);
  const bad = told.find(({ value }) => Number.isNaN(value));
  if (bad) return { fault: `Line ${bad.number} ends in no number: “${bad.line.slice(0, 40)}”.` };
  if (hours.length === HOURS_OF_YEAR + LEAP.count) hours.splice(LEAP.first, LEAP.count);
  if (hours.length !== HOURS_OF_YEAR)
    return { fault: `A year has ${HOURS_OF_YEAR} hours, a line each; this has ${hours.length}.` };
  const highest = Math.max(...hours);
  if (hours.some((w) => w < 0)) return { fault: 'A plant gives nothing below zero.' };
  if (highest > MOST)
    return { fault: `The highest is ${highest}: watts for one kilowatt of peak power are wanted.` };
  if (highest < LEAST)
    return { fault: `The highest is ${highest}: watts are wanted, these look like kilowatts.` };
  return { hours };
}

/** Of a line of values between semicolons, tabs or commas the last one; a comma between digits alone is a decimal one. */
function lastValue(line: string): number {
  const parts = line.split(/[;\t]/);
  const last = (parts.at(-1) as string).trim();
  const text =
    parts.length > 1 || /^-?\d+,\d+$/.test(last)
      ? last.replace(',', '.')
      : (last.split(',').at(-1) as string);
  return text.trim() === '' ? NaN : Number(text);
}
