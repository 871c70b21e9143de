import type { TimeSpan } from '../time/index.js';
import type { ProfileCalendar } from './calendar.js';
import { carpetOf } from './days.js';
import { maximumDemand, type Demand } from './demand.js';
import type { PowerSpans } from './powerSpans.js';
import { changed, withStore, type LoadChange, type Store } from './whatIf.js';

const HOUR = 3_600_000;
const QUARTER = 900_000;
const YEAR = 365.25 * 24 * HOUR;

/** What is asked: a load and what is done about it, and what stands beside the supply. */
export interface WhatIfQuestion {
  load: PowerSpans;
  change: LoadChange;
  /** What the site takes from its supply over the same spans; null where nothing measures it. The load itself where it is the supply. */
  supply: PowerSpans | null;
  /** What a new plant gives over the same spans, W. */
  sun: Float64Array | null;
  store: Store | null;
}

/** What a place takes at the rate of the period. */
export interface Yearly {
  /** Taken and given, each by itself, Wh a year. */
  taken: number;
  given: number;
  /** The highest mean of a quarter-hour in the period; null where none is known. */
  highest: Demand | null;
  /** Mean power by the quarter-hour of the day, W; null where nothing is known. */
  day: (number | null)[];
}

export interface BeforeAfter {
  before: Yearly;
  after: Yearly;
}

export interface WhatIfAnswer {
  /** Of how much of the period both are known, ms. */
  known: number;
  load: BeforeAfter | null;
  /** With all that was asked; null where nothing measures the supply. */
  supply: BeforeAfter | null;
  /** What the new plant would give, and the store, Wh a year. */
  sun: number | null;
  stored: number | null;
}

/**
 * What the load and the supply would have taken over the period with what is asked. Both are told for the spans in which both are
 * known, so that a gap is no saving.
 * @throws CannotChange
 */
export function whatIf(question: WhatIfQuestion, calendar: ProfileCalendar): WhatIfAnswer {
  const { load, supply, sun, store } = question;
  const { days } = calendar;
  const loadAfter = changed(load, days, question.change);
  const rest = supply?.mean.map(
    (w, i) => w - (load.mean[i] as number) + (loadAfter[i] as number) - (sun?.[i] ?? 0),
  );
  const stored = rest && store ? withStore(rest, load.step, store) : null;
  const siteAfter = stored?.watts ?? rest ?? null;
  const isKnown = load.mean.map((w, i) =>
    Number.isNaN(w + (loadAfter[i] as number) + (siteAfter?.[i] ?? 0)) ? 0 : 1,
  );
  const told = (watts: Float64Array) =>
    yearly({ ...load, mean: watts.map((w, i) => (isKnown[i] ? w : NaN)) }, days, calendar.minuteOfDay);
  const known = isKnown.reduce((n, one) => n + one, 0);
  const aYear = (wh: number) => (known > 0 ? (wh * YEAR) / (known * load.step) : 0);
  return {
    known: known * load.step,
    load:
      question.change.kind === 'none' || supply === load
        ? null
        : { before: told(load.mean), after: told(loadAfter) },
    supply: supply && siteAfter && { before: told(supply.mean), after: told(siteAfter) },
    sun: sun && aYear((sun.reduce((sum, w, i) => sum + (isKnown[i] ? w : 0), 0) * load.step) / HOUR),
    stored: stored && aYear(stored.gave),
  };
}

function yearly(spans: PowerSpans, days: readonly TimeSpan[], minuteOfDay: (t: number) => number): Yearly {
  const { mean } = spans;
  let [taken, given, known] = [0, 0, 0];
  for (const w of mean) {
    if (Number.isNaN(w)) continue;
    known++;
    if (w > 0) taken += w;
    else given -= w;
  }
  const aYear = (sum: number) => (known > 0 ? (sum / known) * (YEAR / HOUR) : 0);
  const { watts, columns } = carpetOf(spans, days, QUARTER / 60_000, minuteOfDay);
  return {
    taken: aYear(taken),
    given: aYear(given),
    highest: maximumDemand(spans, QUARTER),
    day: Array.from({ length: columns }, (_, c) => columnMean(watts, columns, c)),
  };
}

function columnMean(cells: Float64Array, columns: number, c: number): number | null {
  let [sum, n] = [0, 0];
  for (let i = c; i < cells.length; i += columns) {
    if (Number.isNaN(cells[i])) continue;
    sum += cells[i] as number;
    n++;
  }
  return n === 0 ? null : sum / n;
}
