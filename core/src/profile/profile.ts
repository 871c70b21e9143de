import { bisectRight, group, median } from 'd3-array';
import { HOUR, MINUTE } from '../series/index.js';
import type { ProfileCalendar } from './calendar.js';
import { cycleFigures, cyclesOf, runRule, type Cycle, type CycleFigures } from './cycles.js';
import { carpetOf, dayEnergies, typicalDay, type Carpet, type TypicalDay } from './days.js';
import { DEMAND_BLOCKS, maximumDemand, mostGiven, type Demand } from './demand.js';
import { durationCurve, type DurationCurve } from './duration.js';
import { kindsOf, type RunKind, type RunKinds } from './kinds.js';
import { levelsOf, type Levels } from './levels.js';
import { monthEstimate, type MonthEstimate } from './month.js';
import { knownMs, type PowerSpans } from './powerSpans.js';
import { isKnown, recurringLevels, type Recurring } from './recurringLevels.js';
import { spreadOf, type Spread } from './spread.js';
import { trendOf, type Trend } from './trend.js';
import { DAY_KINDS, type DayKind } from './workdays.js';

/** Days that are alike: what the typical one is, and which rows of the carpet they are. */
export interface DayType {
  name: DayKind;
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
  runs: ({ figures: CycleFigures | null; list: Cycle[]; trend: Trend | null } & RunKinds) | null;
  recurring: Recurring[];
  /** Null where nothing is known. */
  duration: DurationCurve | null;
  /** The highest block, and the one in which most was given; null where nothing is known, or was given. */
  demand: { block: number; highest: Demand | null; given: Demand | null }[];
  carpet: Carpet;
  dayTypes: DayType[];
  /** Null where too few days were seen whole. */
  month: MonthEstimate | null;
}

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
  const types = dayTypes(carpet, calendar, to);
  const energiesOf = (name: DayType['name']) =>
    dayEnergies(carpet, types.find((d) => d.name === name)?.rows ?? []);
  return {
    from: start,
    to,
    step,
    known,
    energy: ((duration?.mean ?? 0) * known) / HOUR,
    levels,
    runs: list && runsOf(list, spans, known, calendar),
    recurring: recurringLevels(spans, levels, to),
    duration,
    demand: DEMAND_BLOCKS.map((block) => ({
      block,
      highest: maximumDemand(spans, block),
      given: mostGiven(spans, block),
    })),
    carpet,
    dayTypes: types,
    month: monthEstimate(
      energiesOf('working'),
      [...energiesOf('closed'), ...energiesOf('holiday')],
      1 - calendar.closing.closedDays.length / 7,
    ),
  };
}

function runsOf(list: Cycle[], spans: PowerSpans, known: number, calendar: ProfileCalendar): Profile['runs'] {
  const starts = calendar.days.map((d) => d.start);
  const dayOf = (t: number) => bisectRight(starts, t) - 1;
  const found = kindsOf(list, spans.step, calendar.minuteOfDay, dayOf);
  return {
    figures: cycleFigures(list, known, (a, b) => isKnown(spans, a, b)),
    list,
    ...found,
    trend: found.kinds[0] ? trendByDays(list, found.kinds[0], dayOf) : null,
  };
}

/** How the most frequent kind of runs has changed: by the medians of the days, so that a day with many weighs no more. */
function trendByDays(
  list: readonly Cycle[],
  { shortest, longest }: RunKind,
  dayOf: (t: number) => number,
): Trend | null {
  const usual = list.filter((c) => c.end - c.start >= shortest && c.end - c.start <= longest);
  const days = [...group(usual, (c) => dayOf(c.start))];
  return trendOf(
    days.map(([day]) => day),
    days.map(([, runs]) => median(runs, (c) => c.end - c.start) as number),
  );
}

/** The days by their kind; only those that have come to their end. */
function dayTypes(carpet: Carpet, { days, dayKind }: ProfileCalendar, end: number): DayType[] {
  const kinds = days.map((day) => (day.end <= end ? dayKind(day.start) : null));
  return DAY_KINDS.map((name) => ({ name, rows: kinds.flatMap((k, row) => (k === name ? [row] : [])) }))
    .filter(({ rows }) => rows.length > 0)
    .map(({ name, rows }) => ({
      name,
      rows,
      day: typicalDay(carpet, rows),
      energy: spreadOf(dayEnergies(carpet, rows)),
    }));
}
