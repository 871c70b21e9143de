import {
  carpetOf,
  cyclesOf,
  durationCurve,
  durationOfReadings,
  emptySpans,
  levelsOf,
  profileCalendar,
  profileOf,
  recurrenceOf,
  runRule,
} from '@loka/core/profile';
import {
  comings,
  LOAD_KINDS,
  seeded,
  simulatedLoad,
  strays,
  type LoadKind,
} from '@loka/core/profile/simulated';

// What is found of five hundred made-up loads, against what is true of them; whether periods are found and chance is not
// taken for one; and how long a month takes.
const LOADS = 500;

interface Tally {
  loads: number;
  levels: number;
  found: number;
  hits: number;
  wrong: number;
  missed: number;
}
const empty = (): Tally => ({ loads: 0, levels: 0, found: 0, hits: 0, wrong: 0, missed: 0 });
const tallies = new Map<LoadKind | 'all', Tally>([...LOAD_KINDS, 'all' as const].map((k) => [k, empty()]));

for (let seed = 1; seed <= LOADS; seed++) {
  const load = simulatedLoad(seed);
  const levels = levelsOf(load.spans);
  const rule = runRule(levels, load.spans);
  const cycles = rule ? cyclesOf(load.spans, rule) : [];
  const used = new Set<number>();
  for (const { start, end } of load.cycles) {
    const i = cycles.findIndex(
      (c, k) => !used.has(k) && Math.abs(c.start - start) <= 30_000 && Math.abs(c.end - end) <= 30_000,
    );
    if (i >= 0) used.add(i);
  }
  const found = load.levels.filter(({ watts }) =>
    levels.levels.some((l) => Math.abs(l.watts - watts) <= Math.max(0.02 * watts, 0.3)),
  ).length;
  for (const key of [load.kind, 'all'] as const) {
    const t = tallies.get(key) as Tally;
    t.loads++;
    t.levels += load.levels.length;
    t.found += found;
    t.hits += used.size;
    t.wrong += cycles.length - used.size;
    t.missed += load.cycles.length - used.size;
  }
}
for (const [kind, { loads, levels, found, hits, wrong, missed }] of tallies)
  console.log(
    `${kind}, ${loads} loads of four days:  levels within 2 % ${levels > 0 ? `${((100 * found) / levels).toFixed(1)} % of ${levels}` : '(it stays at none)'};  runs F1 ${((2 * hits) / (2 * hits + wrong + missed)).toFixed(3)} (${hits} found, ${wrong} wrong, ${missed} missed)`,
  );

let [periods, right, claimed] = [0, 0, 0];
for (let seed = 1; seed <= LOADS; seed++) {
  const { period, times } = comings(seed);
  if (times.length < 4) continue;
  periods++;
  const got = recurrenceOf(times);
  if (got && Math.abs(got.period / period - 1) < 0.02) right++;
}
for (let seed = 1; seed <= 200; seed++) if (recurrenceOf(strays(seed))) claimed++;
console.log(
  `periods within 2 %: ${((100 * right) / periods).toFixed(1)} % of ${periods}; of 200 without one none claimed in ${((100 * (200 - claimed)) / 200).toFixed(1)} %`,
);

const { spans } = simulatedLoad(3, 30);
const calendar = profileCalendar('UTC', spans);
const timed = (what: string, work: () => unknown) => {
  const times = Array.from({ length: 15 }, () => {
    const began = performance.now();
    work();
    return performance.now() - began;
  }).sort((a, b) => a - b);
  console.log(
    `${what}: median ${(times[7] as number).toFixed(1)} ms, worst ${(times[14] as number).toFixed(1)} ms`,
  );
};
timed('all of a month by the minute', () => profileOf(spans, calendar));
timed('its duration curve alone', () => durationCurve(spans));
timed('its carpet alone', () => carpetOf(spans, calendar.days, 7.5, calendar.minuteOfDay));

// A month of readings a second apart, some jitter in when they come: a load that runs, with noise and a short peak at each start.
const SECONDS = 30 * 86_400;
const random = seeded(11);
const watts = new Float64Array(SECONDS);
const held = new Float64Array(SECONDS);
for (let i = 0; i < SECONDS; i++) {
  const m = i % 3600;
  watts[i] = (m < 1440 ? (m < 2 ? 4200 : 800) : 46) * (0.99 + 0.02 * random());
  held[i] = 990 + 20 * random();
}
timed('duration curve of 2 592 000 readings', () => durationOfReadings(watts, held));
const raw = durationOfReadings(watts, held);

/** The same by quarter-hours, twelve times over: a year. */
const year = emptySpans(0, 900_000, 12 * 2880);
for (let i = 0; i < 2880; i++) {
  const mean = watts.subarray(i * 900, (i + 1) * 900).reduce((a, b) => a + b, 0) / 900;
  for (let k = 0; k < 12; k++) year.mean[k * 2880 + i] = mean;
}
timed('duration curve of a year by quarter-hours', () => durationCurve(year));
const rolled = durationCurve(year);
for (const share of [0, 0.01, 0.05, 0.25, 0.5, 0.95])
  console.log(
    `reached for ${100 * share} %: ${(raw?.watts[200 * share] ?? NaN).toFixed(0)} W by readings, ${(rolled?.watts[200 * share] ?? NaN).toFixed(0)} W by quarter-hours`,
  );
console.log(`mean: ${raw?.mean.toFixed(2)} W and ${rolled?.mean.toFixed(2)} W`);
