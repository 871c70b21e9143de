import type { PlacesBackup } from '@loka/contract/backup';
import { backupOf, emptySpans, type BackupSource } from '@loka/core/profile';
import { textOf } from '../parts.js';
import { backupSays } from './backupSays.js';
import { USUAL, type Question } from './question.js';

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const DAY = 24 * HOUR;
const START = Date.UTC(2026, 9, 5);
const NAMES = ['Cold room', 'Network'];

/** What is said of loads that were read by the minute for four days from a Monday. */
function said(
  loads: ((minute: number) => number)[],
  part: Partial<Question> = {},
  now = START + 40 * DAY,
): string[] {
  const spans = loads.map((watts) => {
    const s = emptySpans(START, MINUTE, (4 * DAY) / MINUTE);
    for (let i = 0; i < s.length; i++) for (const c of [s.mean, s.min, s.max, s.last]) c[i] = watts(i);
    return s;
  });
  const question = { ...USUAL, efficiency: 1, ...part };
  const { outages, recurring, ...rest } = backupOf({
    loads: spans,
    source: question satisfies BackupSource,
    sun: null,
    lasting: question.lasting,
    at: null,
  });
  const answer: PlacesBackup = {
    ...rest,
    source: question,
    lasting: question.lasting,
    from: START,
    to: START + 4 * DAY,
    step: MINUTE,
    loads: loads.map((_, i) => ({ nodeId: i, readEvery: 1000, recurring: recurring[i] ?? [], gives: 0 })),
    outages: {
      starts: outages.map((o) => o.start),
      lasts: outages.map((o) => o.lasts),
      ends: outages.map((o) => o.ends),
      by: outages.map((o) => o.by),
    },
  };
  return backupSays(answer, (id) => NAMES[id] as string, 'UTC', now).map(textOf);
}

it('a constant load: 2 kWh at 100 W last 20 h', () => {
  const words = said([() => 100]);
  // 48 h and a quarter of the last 12 h are too short to tell.
  expect(words[0]).toMatch(
    /^Yes: lasts 12 h whenever the supply fails\. \(the supply failed at each of 337 quarter-hours; of 47 more/,
  );
  expect(words[1]).toMatch(/^Lasts 20 h as a rule, at worst 20 h\./);
  expect(words.find((w) => w.startsWith('To last'))).toContain(
    'takes 100 W all the time, 100 W for 2 s, and 1.20 kWh.',
  );
  expect(said([() => 100], { lasting: 24 * HOUR })[0]).toMatch(/^No: never lasts 24 h/);
});

/** A defrost of 2.5 kW for a quarter-hour at six in the morning. */
const defrost = (m: number) => (m % 1440 >= 360 && m % 1440 < 375 ? 2500 : 60);

it('what ends it, and with which load', () => {
  const words = said([defrost, () => 40], { peak: 2200, energy: 20_000 });
  // 00:00 to 06:00 on the first day are 25 starts, 18:15 to 06:00 in three nights 48 each: 169 of the 337 that are long enough.
  expect(words[0]).toMatch(/^Lasts 12 h in 50 % of the failures, in 50 % not\./);
  expect(words.find((w) => w.startsWith('Ends'))).toBe(
    'Ends because of a peak above what it gives. (“Cold room” draws the most in 169 of 169 of these failures)',
  );
  expect(words.find((w) => w.startsWith('Asks'))).toMatch(
    /^Asks for 2\.54 kW at most\. \(on Mon 5 Oct 06:00; read every 1 s at the slowest/,
  );
  expect(words.find((w) => w.includes('timer'))).toMatch(
    /^“Cold room” goes to 2\.50 kW every 24 h, by a timer/,
  );
  expect(said([() => 100]).join()).not.toContain('timer');
});

it('if it failed now, by the days before', () => {
  const now = START + 4 * DAY;
  expect(said([() => 200], {}, now).find((w) => w.includes('failed now'))).toMatch(
    /until about 10:00\. \(by 4 days/,
  );
  expect(said([() => 200]).some((w) => w.includes('failed now'))).toBe(false);
});

it('of what was not read nothing is said', () => expect(said([() => NaN])).toEqual([]));
