import { emptySpans, type PowerSpans } from '../powerSpans.js';

// Loads made up for tests and benchmarks, with what is true of them. Nothing of the product uses it.

/** A made-up load, and what is true of it. */
export interface SimulatedLoad {
  kind: LoadKind;
  spans: PowerSpans;
  /** Watts at which it truly stays, the time shares beside them; empty where it goes anywhere. */
  levels: { watts: number; time: number }[];
  /** True runs, UTC ms. */
  cycles: { start: number; end: number }[];
}

export const LOAD_KINDS = ['thermostat', 'compressor', 'programme', 'drive', 'charger'] as const;
export type LoadKind = (typeof LOAD_KINDS)[number];

// Looked up once: within a test's own globals each look takes its time.
const { floor, imul, max, min } = Math;

/** Numbers of a seed, from 0 to 1 (mulberry32, public domain). */
export function seeded(seed: number): () => number {
  let a = seed >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = imul(a ^ (a >>> 15), a | 1);
    t ^= t + imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
}

const SAMPLE = 10_000;
const MINUTE = 60_000;

/** A stretch at one power: until when, s; W; whether the load runs. */
interface Stretch {
  until: number;
  watts: number;
  runs: boolean;
}

/**
 * Some days of a load, sampled every ten seconds with noise, gaps and, on some, another load on the same circuit that
 * comes and goes by the hour; rolled up by the minute.
 */
export function simulatedLoad(seed: number, days = 4): SimulatedLoad {
  const random = seeded(seed);
  const between = (low: number, high: number) => low + (high - low) * random();
  const kind = LOAD_KINDS[floor(random() * LOAD_KINDS.length)] as LoadKind;
  const end = days * 86_400;
  const standby = random() < 0.3 ? 0 : between(0.5, 15);
  const stretches: Stretch[] = [];
  const add = (seconds: number, watts: number, runs: boolean) => {
    const from = stretches.at(-1)?.until ?? 0;
    if (from < end) stretches.push({ until: min(end, from + seconds), watts, runs });
  };
  const now = () => stretches.at(-1)?.until ?? 0;
  const wander = between(0.02, 0.12);
  const about = (v: number) => v * (1 + wander * (2 * random() - 1));
  if (kind === 'thermostat') {
    const [watts, on, off] = [between(300, 4000), between(240, 1800), between(600, 5400)];
    while (now() < end) {
      add(about(off), standby, false);
      add(about(on), watts, true);
    }
  } else if (kind === 'compressor') {
    const [watts, on, off] = [between(60, 900), between(600, 1800), between(900, 3600)];
    const heater = watts * between(1.5, 5);
    const every = between(5, 13) * 3600;
    let next = between(0.2, 1) * every;
    while (now() < end) {
      add(about(off), standby, false);
      if (now() > next) {
        add(between(900, 1300), heater, true);
        next += every;
      } else {
        add(10, 3 * watts, true);
        add(about(on), watts, true);
      }
    }
  } else if (kind === 'programme') {
    const [heat, motor, spin] = [between(1500, 2500), between(80, 250), between(350, 700)];
    while (now() < end) {
      add(between(3, 10) * 3600, standby, false);
      add(between(700, 1000), heat, true);
      add(between(1200, 2400), motor, true);
      add(between(400, 800), spin, true);
    }
  } else if (kind === 'drive') {
    while (now() < end) {
      add(between(0.5, 3) * 3600, standby, false);
      const [low, high] = [between(100, 400), between(800, 2000)];
      const until = now() + between(1, 4) * 3600;
      while (now() < min(end, until)) add(between(60, 180), between(low, high), true);
    }
  } else {
    const watts = between(1300, 7400);
    while (now() < end) {
      add(between(8, 20) * 3600, standby, false);
      add(between(1, 6) * 3600, watts, true);
    }
  }
  const other = random() < 0.25 ? between(20, 120) : 0;
  const noise = between(0.002, 0.012);
  const spans = emptySpans(0, MINUTE, end / 60);
  const each = MINUTE / SAMPLE;
  const gaps = Array.from({ length: floor(between(0, 4)) }, () => {
    const from = floor(random() * spans.length);
    return [from, from + floor(between(2, 90))] as const;
  });
  let k = 0;
  const times = new Map<number, number>();
  let otherOn = false;
  let otherUntil = 0;
  for (let i = 0; i < spans.length; i++) {
    let [sum, low, high, last] = [0, Infinity, -Infinity, NaN];
    for (let j = 0; j < each; j++) {
      const t = (i * MINUTE + j * SAMPLE) / 1000;
      while ((stretches[k] as Stretch).until <= t) k++;
      if (other > 0 && t >= otherUntil) {
        otherOn = !otherOn;
        otherUntil = t + between(3, 9) * 3600;
      }
      const { watts } = stretches[k] as Stretch;
      const beside = otherOn ? other : 0;
      const level = watts + beside;
      times.set(level, (times.get(level) ?? 0) + 1);
      // Twelve uniform numbers less six are near enough a normal one; four are cheaper, and enough here.
      const normal = (random() + random() + random() + random() - 2) * 1.732;
      last = level * (1 + noise * normal) + 0.1 * (random() - 0.5);
      sum += last;
      low = min(low, last);
      high = max(high, last);
    }
    if (gaps.some(([from, to]) => i >= from && i < to)) continue;
    spans.mean[i] = sum / each;
    spans.min[i] = low;
    spans.max[i] = high;
    spans.last[i] = last;
  }
  const all = [...times.values()].reduce((a, b) => a + b, 0);
  const isKnown = (from: number, to: number) => {
    for (let i = floor(from / 60); i <= floor(to / 60) && i < spans.length; i++)
      if (Number.isNaN(spans.mean[i])) return false;
    return true;
  };
  const cycles: { start: number; end: number }[] = [];
  let from: number | null = null;
  let before = 0;
  for (const { until, runs } of stretches) {
    if (runs && from === null) from = before;
    if (!runs && from !== null) {
      if (from > 60 && before < end - 60 && isKnown(from - 60, before + 60))
        cycles.push({ start: from * 1000, end: before * 1000 });
      from = null;
    }
    before = until;
  }
  const levels =
    kind === 'drive'
      ? []
      : [...times].map(([watts, count]) => ({ watts, time: count / all })).filter((l) => l.time > 0.01);
  return { kind, spans, levels, cycles };
}

const HOUR = 3_600_000;
const A_MONTH = 720 * HOUR;

/** Instants of a month that come at a period, some a little early or late, some left out. */
export function comings(seed: number): { period: number; times: number[] } {
  const random = seeded(seed);
  const period = (0.5 + 47 * random()) * HOUR;
  const [late, missing] = [0.06 * random() * period, 0.15 * random()];
  const times: number[] = [];
  for (let t = random() * period; t < A_MONTH; t += period)
    if (random() > missing) times.push(t + late * (2 * random() - 1));
  return { period, times };
}

/** Instants of a month without a period: anywhere, or at irregular distances. */
export function strays(seed: number): number[] {
  const random = seeded(9000 + seed);
  const times: number[] = [];
  if (seed % 2 === 0) for (let i = 4 + floor(random() * 120); i > 0; i--) times.push(random() * A_MONTH);
  else {
    const distance = (1 + 20 * random()) * HOUR;
    for (let t = 0; t < A_MONTH; t += distance * (0.3 + 1.4 * random())) times.push(t);
  }
  return times.sort((a, b) => a - b);
}
