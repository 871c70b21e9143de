import { mean } from 'd3-array';
import { cannotTell, fail, pass, type Check } from '../check.js';
import type { Look, Metered } from '../circuit.js';
import { scatterOf, type Trace } from '../trace.js';
import { inWords } from '../words.js';

/** A counter agrees with its power within this, and a count (trade). */
const COUNTER = 0.05;
/** Meters on the same conductor agree within this before they are calibrated (trade). */
const BESIDE = 0.05;
/** Parts may be more than the whole by this before something is wrong. */
const PARTS = 0.05;
const HOUR = 3_600_000;

/** Mean power of a metered place over the window; null where it is not read. */
function meanPower({ total, channels }: Metered): { watts: number; scatter: number } | null {
  const traces = total ? [total] : channels.map((c) => c.power);
  if (traces.length === 0 || traces.some((t) => t === null || t.v.length === 0)) return null;
  const known = traces as Trace[];
  return {
    watts: known.reduce((sum, t) => sum + (mean(t.v) as number), 0),
    scatter: Math.hypot(...known.map((t) => scatterOf(t.v))),
  };
}

/** Whether the energy counter rises as the power says. */
export function checkCounter({ own }: Look): Check | null {
  const { counter } = own;
  const power = meanPower(own);
  if (!counter || !power) return null;
  const first = counter.t[0];
  const last = counter.t.at(-1);
  const rises = counter.v
    .slice(1)
    .flatMap((v, i) => (v > (counter.v[i] as number) ? [v - (counter.v[i] as number)] : []));
  const wait = () =>
    cannotTell('counter', 'Energy counter against power.', 'It needs a load on for some minutes.');
  if (first === undefined || last === undefined || rises.length < 5) return wait();
  const counted = (counter.v.at(-1) as number) - (counter.v[0] as number);
  const computed = (power.watts * (last - first)) / HOUR;
  const count = Math.max(...rises);
  if (counted < 10 * count) return wait();
  const rests = `${inWords(counted, 'Wh')} counted, ${inWords(computed, 'Wh')} by power`;
  if (Math.abs(counted - computed) <= COUNTER * Math.abs(computed) + 2 * count)
    return pass('counter', 'The energy counter agrees with the power.', rests);
  return fail(
    'counter',
    'The energy counter does not agree with the power.',
    rests,
    'The counter’s unit or factor is wrong, or it counts another quantity.',
    'Look at its register in the map.',
  );
}

/** Whether what is metered below is no more than what is metered here. */
export function checkParts(look: Look): Check | null {
  const own = meanPower(look.own);
  const parts = look.below.map(meanPower);
  if (!own || parts.length === 0 || parts.includes(null)) return null;
  const known = parts as { watts: number; scatter: number }[];
  const sum = known.reduce((a, b) => a + b.watts, 0);
  const rests = `${inWords(own.watts, 'W')} here, ${inWords(sum, 'W')} below`;
  const slack =
    PARTS * Math.max(Math.abs(sum), Math.abs(own.watts)) +
    4 * Math.hypot(own.scatter, ...known.map((k) => k.scatter)) +
    10;
  if (sum <= own.watts + slack) return pass('parts', 'What is metered below fits into it.', rests);
  return fail(
    'parts',
    'More is metered below than here.',
    rests,
    'A clamp here or below reads wrong, or one of them hangs elsewhere.',
    'Verify the meters below, the largest first.',
  );
}

/** Whether another device on the same conductor reads the same. */
export function checkBeside({ own, beside }: Look): Check | null {
  const here = meanPower(own);
  const other = beside.map((b) => ({ name: b.name, power: meanPower(b) })).find((b) => b.power !== null);
  if (!here || !other?.power) return null;
  const rests = `${inWords(here.watts, 'W')} here, ${inWords(other.power.watts, 'W')} by ${other.name}`;
  const most = Math.max(Math.abs(here.watts), Math.abs(other.power.watts));
  if (most < 20)
    return cannotTell(
      'beside',
      `Too little flows to compare with ${other.name}.`,
      'Switch a load on.',
      rests,
    );
  const off = Math.abs(here.watts - other.power.watts) / most;
  if (off <= BESIDE) return pass('beside', `It agrees with ${other.name}.`, rests);
  return fail(
    'beside',
    `It does not agree with ${other.name}, ${Math.round(off * 100)} % apart.`,
    rests,
    'One of the two is wired or scaled wrongly, or they are not on the same conductor.',
    'Verify both; calibrate the one that is trusted less.',
  );
}
