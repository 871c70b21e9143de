import { QUALITY, isBad, isGood, type QualityCode } from '../series/quality.js';
import type { Sample } from '../series/sample.js';
import { MINUTE, spanStart } from '../series/spans.js';
import { SUPPLY_TOLERANCE } from '../power/index.js';
import { chosen, evaluate, hasChoice, namesIn, NOMINAL, type Expression } from './formula.js';

/** An input of a formula: its samples (ascending), and for how long one speaks for the time after it. */
export interface InputSeries {
  name: string;
  samples: readonly Sample[];
  holdMs: (t: number) => number;
}

/** Any factor above 1: by it a value at the end of its range is made larger, to see which way the result goes. */
const LARGER = 1.5;

/** A sample that says something. */
const hasReading = (sample: Sample | null | undefined): sample is Sample & { v: number } =>
  sample?.v != null && !isBad(sample.q);

/** What is true of a formula's inputs at an instant. */
export type InputsNow = ReadonlyMap<string, Sample | null>;

/**
 * The value of a formula at an instant. Its quality follows its inputs: bad as soon as one is bad or missing,
 * uncertain when one is, or when the nominal voltage stands in for a measured one. With a clamp at the end of its range it is
 * at least so much, as long as more of that clamp makes more of it. Where a `first` gives a choice, only what is chosen counts.
 * @param nominal the site's nominal voltage, V
 */
export function computeAt(expression: Expression, t: number, inputs: InputsNow, nominal: number): Sample {
  const formula = chosen(expression, (name) => name === NOMINAL || hasReading(inputs.get(name)));
  const values = new Map<string, number>([[NOMINAL, nominal]]);
  let q: QualityCode = QUALITY.good;
  /** The same, if what is at the end of its range were larger. */
  const larger = new Map<string, number>([[NOMINAL, nominal]]);
  for (const name of namesIn(formula)) {
    if (name === NOMINAL) {
      if (isGood(q)) q = QUALITY.assumed;
      continue;
    }
    const input = inputs.get(name);
    if (!hasReading(input)) return { t, v: null, q: QUALITY.inputBad };
    if (input.q === QUALITY.saturated && (isGood(q) || q === QUALITY.assumed)) q = QUALITY.saturated;
    else if (!isGood(input.q) && !(input.q === QUALITY.saturated && q === QUALITY.saturated))
      q = QUALITY.uncertain;
    values.set(name, input.v);
    larger.set(name, input.q === QUALITY.saturated ? LARGER * input.v : input.v);
  }
  const v = evaluate(formula, values);
  if (q === QUALITY.saturated) {
    const more = evaluate(formula, larger);
    if (!(Math.sign(more) === Math.sign(v) && Math.abs(more) > Math.abs(v))) q = QUALITY.uncertain;
  }
  return Number.isFinite(v) ? { t, v, q } : { t, v: null, q: QUALITY.notANumber };
}

/**
 * The range of a formula's value where the nominal voltage stands in for a measured one: a supply's voltage lies within ±10 % of
 * it (EN 50160). Null where it does not, or where there is no value.
 */
export function assumedBetween(
  expression: Expression,
  inputs: InputsNow,
  nominal: number,
): [low: number, high: number] | null {
  if (computeAt(expression, 0, inputs, nominal).q !== QUALITY.assumed) return null;
  const [a, b] = [1 - SUPPLY_TOLERANCE, 1 + SUPPLY_TOLERANCE].map(
    (share) => computeAt(expression, 0, inputs, share * nominal).v,
  );
  return a == null || b == null ? null : [Math.min(a, b), Math.max(a, b)];
}

/**
 * A formula over recorded inputs, at every multiple of `stepMs` in [from, to). Of a row of missing values only the
 * first of each minute is given: the gap after it speaks for the rest. Minute by minute it gives what it gives in one go.
 */
export function* computeOver(
  expression: Expression,
  inputs: readonly InputSeries[],
  { from, to, stepMs }: { from: number; to: number; stepMs: number },
  nominal: number,
): Generator<Sample> {
  const places = inputs.map(() => -1);
  // Before all its inputs have been read for the first time there is nothing, and not something bad.
  const begins = hasChoice(expression)
    ? from
    : Math.max(from, ...inputs.map((i) => i.samples[0]?.t ?? Infinity));
  const now = new Map<string, Sample | null>();
  const begun = new Set([NOMINAL]);
  let gap = false;
  for (let t = Math.ceil(begins / stepMs) * stepMs; t < to; t += stepMs) {
    inputs.forEach(({ name, samples, holdMs }, i) => {
      while (((samples[(places[i] as number) + 1]?.t ?? Infinity) as number) <= t)
        places[i] = (places[i] as number) + 1;
      const sample = samples[places[i] as number];
      if (sample) begun.add(name);
      now.set(name, sample && t - sample.t <= holdMs(sample.t) ? sample : null);
    });
    if (!namesIn(chosen(expression, (name) => begun.has(name))).every((name) => begun.has(name))) continue;
    const sample = computeAt(expression, t, now, nominal);
    const sameMinute = spanStart(t - stepMs, MINUTE) === spanStart(t, MINUTE);
    if (sample.v === null && gap && sameMinute) continue;
    gap = sample.v === null;
    yield sample;
  }
}
