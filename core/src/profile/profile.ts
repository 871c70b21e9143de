import { median, range } from 'd3-array';
import { HOUR, MINUTE } from '../series/index.js';
import type { ProfileCalendar } from './calendar.js';
import { cycleFigures, cyclesOf, runRule, type Cycle, type CycleFigures } from './cycles.js';
import { carpetOf, dayEnergies, typicalDay, type Carpet, type TypicalDay } from './days.js';
import { DEMAND_BLOCKS, maximumDemand, mostGiven, type Demand } from './demand.js';
import { durationCurve, type DurationCurve } from './duration.js';
import { levelsOf, type Levels } from './levels.js';
import { knownMs, type PowerSpans } from './powerSpans.js';
import { recurrenceOf, type Recurrence } from './recurring.js';
import { spreadOf, type Spread } from './spread.js';
import { visitsOf } from './visits.js';

/** What comes again and again at a place: visits of one of its levels. */
export interface Recurring {
  /** Index of the level. */
  level: number;
  recurrence: Recurrence;
  /** Medians of the visits: ms and Wh. */
  duration: number;
  energy: number;
  count: number;
  last: number;
  /** When it should come next, UTC ms. */
  next: number;
}

/** Days that are alike: what the typical one is, and which rows of the carpet they are. */
export interface DayType {
  name: 'working' | 'weekend';
  rows: number[];
  day: TypicalDay;
  /** Energy a day of those that were read for nine tenths or more, Wh. */
  energy: Spread;
}

/** What a load does over a period, found from its power. */
export interface Profile {
  /** UTC ms: whole spans. */
  from: number;
  to: number;
  /** Length of the spans from which it was found, ms. */
  step: number;
  /** ms of the period in which the power is known. */
  known: number;
  /** Net, Wh. */
  energy: number;
  levels: Levels;
  /** Null where nothing tells when it runs. */
  runs: { figures: CycleFigures | null; list: Cycle[] } | null;
  recurring: Recurring[];
  /** Null where nothing is known. */
  duration: DurationCurve | null;
  /** The highest block, and the one in which most was given; null where nothing is known, or was given. */
  demand: { block: number; highest: Demand | null; given: Demand | null }[];
  carpet: Carpet;
  dayTypes: DayType[];
}

/** A level that takes more of the time than this is no event that recurs. */
const EVENT = 0.2;

/** What a load does, all of it. */
export function profileOf(spans: PowerSpans, calendar: ProfileCalendar): Profile {
  const { start, step, length } = spans;
  const to = start + length * step;
  const known = knownMs(spans);
  const levels = levelsOf(spans);
  const rule = runRule(levels, spans);
  const list = rule && cyclesOf(spans, rule);
  const carpet = carpetOf(spans, calendar.days, step > MINUTE ? 15 : 7.5, calendar.minuteOfDay);
  const duration = durationCurve(spans);
  return {
    from: start,
    to,
    step,
    known,
    energy: ((duration?.mean ?? 0) * known) / HOUR,
    levels,
    runs: list && { figures: cycleFigures(list, known, (a, b) => isKnown(spans, a, b)), list },
    recurring: recurring(spans, levels, to),
    duration,
    demand: DEMAND_BLOCKS.map((block) => ({
      block,
      highest: maximumDemand(spans, block),
      given: mostGiven(spans, block),
    })),
    carpet,
    dayTypes: dayTypes(carpet, calendar, to),
  };
}

const isKnown = ({ start, step, mean }: PowerSpans, from: number, to: number): boolean => {
  for (let i = Math.floor((from - start) / step); i <= Math.floor((to - start) / step); i++)
    if (Number.isNaN(mean[i] ?? NaN)) return false;
  return true;
};

/** Levels that are not what the load mostly does, and come at a period. */
function recurring(spans: PowerSpans, levels: Levels, end: number): Recurring[] {
  return range(1, levels.levels.length).flatMap((level): Recurring[] => {
    const { time, varies } = levels.levels[level] as Levels['levels'][0];
    if (varies || time > EVENT) return [];
    const visits = visitsOf(spans, levels, level);
    const recurrence = recurrenceOf(
      visits.map((v) => v.start),
      (t) => isKnown(spans, t, t),
    );
    const last = visits.at(-1)?.start;
    if (!recurrence || last === undefined) return [];
    const { period, phase } = recurrence;
    return [
      {
        level,
        recurrence,
        duration: median(visits, (v) => v.end - v.start) as number,
        energy: median(visits, (v) => v.energy) as number,
        count: visits.length,
        last,
        next: phase + Math.ceil((end - phase) / period) * period,
      },
    ];
  });
}

/** Working days and the others, by the week; only days that have come to their end. */
function dayTypes(carpet: Carpet, { days, weekday }: ProfileCalendar, end: number): DayType[] {
  const rows = { working: [] as number[], weekend: [] as number[] };
  days.forEach((day, row) => {
    if (day.end <= end) rows[weekday(day.start) >= 6 ? 'weekend' : 'working'].push(row);
  });
  return (['working', 'weekend'] as const)
    .filter((name) => rows[name].length > 0)
    .map((name) => ({
      name,
      rows: rows[name],
      day: typicalDay(carpet, rows[name]),
      energy: spreadOf(dayEnergies(carpet, rows[name])),
    }));
}
