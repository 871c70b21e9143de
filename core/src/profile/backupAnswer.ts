import { MINUTE } from '../series/index.js';
import { courseOf, drawnBy, outages, type BackupSource, type Outage, type OutageCourse } from './backup.js';
import { backupFigures, backupNeed, type BackupFigures, type BackupNeed } from './backupFigures.js';
import { levelsOf } from './levels.js';
import type { PowerSpans } from './powerSpans.js';
import { recurringLevels, type Recurring } from './recurringLevels.js';

/** Whether a source carries some loads. */
export interface BackupQuestion {
  /** Over the same spans. */
  loads: PowerSpans[];
  source: BackupSource;
  /** What charges it, W above zero, over the same spans. */
  sun: Float64Array | null;
  /** For how long it has to carry them, ms. */
  lasting: number;
  /** The outage that is told span by span, UTC ms; null for the worst. */
  at: number | null;
}

/** A load by its place in the list, and what it has to do with it. */
export interface BackupAnswer {
  outages: Outage[];
  figures: BackupFigures;
  /** Null where no start has the whole time recorded. */
  need: BackupNeed | null;
  /** The highest that the loads ask for, in any case and if the highest of all fall together, W; when; null where nothing is known. */
  highest: { watts: number; together: number; at: number } | null;
  /** What in each load comes at a period. */
  recurring: RecurringPower[][];
  /** Null where nothing is known at that instant. */
  course: (OutageCourse & Outage) | null;
}

/** What comes at a period, with its level in W. */
export type RecurringPower = Pick<Recurring, 'recurrence' | 'duration'> & { watts: number };

/** The whole answer. @throws RangeError without loads, or where their spans differ */
export function backupOf({ loads, source, sun, lasting, at }: BackupQuestion): BackupAnswer {
  const list = outages(loads, source, sun);
  const figures = backupFigures(list, lasting);
  const asked = at === null ? figures.worst : list.find((o) => at >= o.start && at < o.start + 15 * MINUTE);
  return {
    outages: list,
    figures,
    need: backupNeed(loads, source, lasting, sun),
    highest: highestOf(loads),
    recurring: loads.map(recurringIn),
    course: asked ? { ...courseOf(loads, source, sun, asked), ...asked } : null,
  };
}

function highestOf(loads: readonly PowerSpans[]): BackupAnswer['highest'] {
  const { top, together, start, step } = drawnBy(loads);
  let best = -1;
  top.forEach((watts, i) => {
    if (watts > (top[best] ?? -Infinity)) best = i;
  });
  return best < 0
    ? null
    : {
        watts: top[best] as number,
        together: together.reduce((most, w) => (w > most ? w : most), 0),
        at: start + best * step,
      };
}

function recurringIn(load: PowerSpans): RecurringPower[] {
  const levels = levelsOf(load);
  return recurringLevels(load, levels, load.start + load.length * load.step).map(
    ({ recurrence, duration, level }) => ({
      recurrence,
      duration,
      watts: levels.levels[level]?.watts ?? NaN,
    }),
  );
}
