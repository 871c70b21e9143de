import type { FoundDevice } from '@loka/contract/search';
import { plausibility, type TriedValue } from '@loka/core/devices';
import {
  isBitKind,
  isReadable,
  planReads,
  readSpanOf,
  RegisterValueError,
  valueOf,
  type PointDefinition,
  type Span,
} from '@loka/core/registers';
import { LinkFault } from '../acquisition/runner.js';
import type { RegisterMapEntity } from '../book/registerMap.entity.js';
import { walkSunspec } from './sunspecWalk.js';

/** Of a map, this many values are read to see whether it fits. */
const TRIED_VALUES = 16;
const LEAST_PLAUSIBLE = 0.4;
/** After so long no further map is tried: a slow device is told by those that were, ms. */
const LONGEST = 20_000;
/** Exceptions with which a gateway says that nobody is behind it at this unit id. */
const NOBODY = [10, 11];

/** Whatever can be asked for words: a connection of its own, or a link that is in use. An exception has its code as `modbusCode`. */
export interface Asked {
  read(unit: number, span: Span): Promise<number[]>;
  identify(unit: number): Promise<string[] | null>;
  close(): void;
}

/** Asks over a link that is in use, one request among its others. What a device says of itself is not asked for there. */
export const throughLink = (readOnce: (span: Span) => Promise<number[]>): Asked => ({
  async read(_, span) {
    try {
      return await readOnce(span);
    } catch (error) {
      if (error instanceof LinkFault && error.fault.exception !== null)
        throw Object.assign(error, { modbusCode: error.fault.exception });
      throw error;
    }
  },
  identify: () => Promise.resolve(null),
  close: () => undefined,
});

const isException = (error: unknown): error is { modbusCode: number } =>
  (error as { modbusCode?: number }).modbusCode !== undefined;

/** What a unit says of itself, and which maps read plausibly from it, best first. */
export async function whatIs(
  asked: Asked,
  unit: number,
  maps: readonly Pick<RegisterMapEntity, 'id' | 'name' | 'points'>[],
): Promise<Pick<FoundDevice, 'identification' | 'sunspec' | 'maps'>> {
  const identification = await quietly(() => asked.identify(unit));
  const sunspec = await quietly(() => walkSunspec((span) => asked.read(unit, span), isException));
  const fits: FoundDevice['maps'] = [];
  const began = performance.now();
  for (const { id, name, points } of maps) {
    if (performance.now() - began > LONGEST) break;
    const score = await tryMap(asked, unit, points);
    if (score >= LEAST_PLAUSIBLE) fits.push({ id, name, plausibility: score });
  }
  const said = identification?.filter((text) => text.trim() !== '').join(', ');
  const common = sunspec ? [sunspec.maker, sunspec.model, sunspec.serial].filter(Boolean).join(' ') : '';
  return {
    identification: said || common || null,
    sunspec: sunspec?.meter ? { model: sunspec.meter.model, words: sunspec.meter.words } : null,
    maps: fits.sort((a, b) => b.plausibility - a.plausibility).slice(0, 5),
  };
}

/** What came of asking at a unit id: somebody is there, a gateway says that nobody is, or nothing came. */
export type Reply = 'here' | 'nobody' | 'silence';

/** Asks at a unit id. An exception is an answer as well; some of them are a gateway's. */
export async function askUnit(asked: Asked, unit: number): Promise<Reply> {
  try {
    await asked.read(unit, { kind: 'holding', start: 0, count: 1 });
    return 'here';
  } catch (error) {
    if (isException(error)) return NOBODY.includes(error.modbusCode) ? 'nobody' : 'here';
    asked.close(); // a late answer must not be taken for the next unit's
    return 'silence';
  }
}

export const answers = async (asked: Asked, unit: number): Promise<boolean> =>
  (await askUnit(asked, unit)) === 'here';

/** Unit ids that nobody gives to a device behind a gateway. */
const UNLIKELY = [199, 233, 241, 246];

/** Whether a place answers at unit ids that are most likely nobody's: then it does not look at them. */
export async function answersAnyUnit(asked: Asked, units: readonly number[]): Promise<boolean> {
  for (const unit of UNLIKELY.filter((u) => !units.includes(u)).slice(0, 2))
    if (!(await answers(asked, unit))) return false;
  return true;
}

/**
 * What a device does not know how to answer is no fault of a search; it only is not recognised by it. An answer that
 * was lost is asked for once more.
 */
async function quietly<T>(question: () => Promise<T>, again = true): Promise<T | null> {
  try {
    return await question();
  } catch (error) {
    return again && !isException(error) ? quietly(question, false) : null;
  }
}

/** How plausible what a map reads from a unit is; 0 where the unit refuses a value. */
async function tryMap(asked: Asked, unit: number, points: readonly PointDefinition[]): Promise<number> {
  const tried = points
    .filter((p) => isReadable(p) && p.type !== 'string' && readSpanOf(p) !== null)
    .slice(0, TRIED_VALUES);
  const values: TriedValue[] = [];
  const span = (p: PointDefinition) => readSpanOf(p) as Span;
  for (const request of planReads(tried, span, { maxGap: 0, maxWords: 60, maxBits: 200 })) {
    const words = await quietly(() => asked.read(unit, request));
    if (!words) return 0;
    for (const point of request.items) {
      const { start, count } = span(point);
      const own = words.slice(start - request.start, start - request.start + count);
      values.push({ quantity: point.quantity, phase: point.phase, value: valueIn(point, own) });
    }
  }
  return plausibility(values);
}

function valueIn(point: PointDefinition, words: number[]): number {
  if (isBitKind(point.kind)) return words[0] ? 1 : 0;
  try {
    return valueOf(point, words);
  } catch (error) {
    if (error instanceof RegisterValueError) return NaN;
    throw error;
  }
}
