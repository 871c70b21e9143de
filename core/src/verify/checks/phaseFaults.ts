import { fail, type Check } from '../check.js';
import type { Circuit, Look } from '../circuit.js';
import type { Fault } from '../faults.js';
import type { Line, LineReading } from '../phasors.js';
import type { Way, WaysTried } from '../ways.js';
import { listed } from '../words.js';

/** The best way is believed when it is this near. */
export const FITS = 12;

/** What is said of how the clamps are fitted. */
export interface PhasesSeen {
  check: Check;
  faults: Fault[];
  /** What was tried, on what; null where nothing could be. */
  tried: { readings: LineReading[]; ways: WaysTried } | null;
}

/** Ways that were tried on readings. */
export interface Tried {
  readings: LineReading[];
  ways: WaysTried;
}

/** How the clamps are fitted, where that is wrong: named as far as all ways that fit have it in common. */
export function wiredWrong(look: Look, { readings, ways }: Tried): PhasesSeen {
  const kinds = commonKinds(ways.equal, readings);
  const opposite =
    isOpposite(look.circuit) && !kinds.includes('moved') ? readsMinus(ways.equal, readings) : [];
  const best = ways.ways[0] as Way;
  const rests = restsOn(readings);
  const tried = { readings, ways };
  if (opposite.length > 0 && best.off <= FITS) return minusOf(opposite, look, { readings, ways }, rests);
  if (kinds.length === 0 || best.off > FITS)
    return {
      check: fail(
        'phases',
        'It is not wired as it should be; the readings do not show how.',
        rests,
        'A clamp is turned round or on another phase than its voltage.',
        'Switch a load whose power factor is known, such as a heater.',
      ),
      faults: [],
      tried,
    };
  const faults = faultsOf(ways.equal, readings, kinds);
  const says = faults.map((f) => saysOf(f, look)).join(' ');
  return {
    check: fail('phases', says, rests, causeOf(faults, look), todoOf(faults, look)),
    faults,
    tried,
  };
}

/**
 * Whether a clamp on the other line reads as one that is turned round: the current of a load between two lines is the same
 * in both, and the two voltages of a split-phase supply are opposite.
 */
export const isOpposite = ({ lines, system }: Circuit): boolean =>
  lines.length === 2 || system === 'split-phase';

/** The lines that read minus in all ways that fit; none where these do not agree. */
export function readsMinus(equal: readonly Way[], readings: readonly LineReading[]): Line[] {
  const minus = equal.map((way) =>
    readings.filter((_, i) => (way.on[i] !== way.tap[i]) !== way.turned[i]).map((r) => r.line),
  );
  const [first = []] = minus;
  return minus.every((lines) => String(lines) === String(first)) ? first : [];
}

function minusOf(lines: Line[], { circuit }: Look, tried: Tried, rests: string): PhasesSeen {
  const one = circuit.lines.length === 1;
  return {
    check: fail(
      'phases',
      one
        ? 'The clamp reads minus.'
        : `The clamp${lines.length > 1 ? 's' : ''} of ${listed(lines)} read${lines.length > 1 ? '' : 's'} minus.`,
      rests,
      'Its arrow points away from the load, or it is on the other line: both read alike.',
      'Look whether the clamp is on the line of its label, then at its arrow.',
    ),
    faults: [{ kind: 'reversed', lines }],
    tried,
  };
}

type WayKind = 'moved' | 'turned';

/** What all ways that fit have in common. Where no power is read, nobody sees which way a clamp is turned. */
function commonKinds(equal: readonly Way[], readings: readonly LineReading[]): WayKind[] {
  const isMoved = (way: Way) => way.on.some((line, i) => line !== readings[i]?.line || way.tap[i] !== line);
  const kinds: WayKind[] = [];
  if (equal.every(isMoved)) kinds.push('moved');
  if (equal.every((way) => way.turned.includes(true))) kinds.push('turned');
  return kinds;
}

function faultsOf(
  equal: readonly Way[],
  readings: readonly LineReading[],
  kinds: readonly WayKind[],
): Fault[] {
  const best = equal[0] as Way;
  const at = (way: Way) => ({
    moved: readings.filter((r, i) => way.on[i] !== r.line || way.tap[i] !== r.line).map((r) => r.line),
    turned: readings.filter((_, i) => way.turned[i]).map((r) => r.line),
    on: readings.flatMap((r, i) => (way.on[i] !== r.line ? [way.on[i] as Line] : [])),
  });
  const { moved, turned, on } = at(best);
  const all = equal.map(at);
  const same = (list: 'moved' | 'turned' | 'on') =>
    all.every((w) => String(w[list]) === String({ moved, turned, on }[list]));
  const faults: Fault[] = [];
  if (kinds.includes('moved'))
    faults.push({
      kind: readings.length > 1 ? 'swapped' : 'wrong-phase',
      lines: same('moved') ? moved : [],
      ...(same('on') ? { on } : {}),
    });
  if (kinds.includes('turned')) faults.push({ kind: 'reversed', lines: same('turned') ? turned : [] });
  return faults;
}

function saysOf({ kind, lines, on }: Fault, { circuit }: Look): string {
  if (kind === 'reversed')
    return circuit.lines.length > 1
      ? `${lines.length > 0 ? `The clamp${lines.length > 1 ? 's' : ''} of ${listed(lines)}` : 'One clamp'} ${lines.length > 1 ? 'are' : 'is'} turned round.`
      : 'The clamp is turned round.';
  if (kind === 'wrong-phase')
    return on?.[0]
      ? `The clamp is on ${on[0]}, and it is multiplied with the voltage of ${lines[0]}.`
      : 'Clamp and voltage are on different phases.';
  if (lines.length === 2) return `Clamps ${listed(lines)} have changed places.`;
  return lines.length === 0 ? 'The clamps are on other lines.' : 'All three clamps are on another line.';
}

function causeOf(faults: readonly Fault[], look: Look): string {
  const { circuit } = look;
  if (faults.some((f) => f.kind === 'swapped'))
    return 'Leads are crossed at the meter, or the clamps at the conductors.';
  if (faults.some((f) => f.kind === 'wrong-phase'))
    return `The voltage tap is on another line, or the circuit is not on ${listed(circuit.lines)}.`;
  const setting = turnedInDevice(faults, look);
  if (setting !== null) return `“${setting}” of the device reverses its readings, and should not.`;
  return 'Its arrow points away from the load, or its two leads are exchanged.';
}

function todoOf(faults: readonly Fault[], look: Look): string {
  const setting = turnedInDevice(faults, look);
  const todo = faults.map(({ kind, lines }) => {
    if (kind === 'reversed' && setting !== null) return `set “${setting}” of the device back`;
    if (kind === 'reversed')
      return `turn ${lines.length > 0 ? `the clamp of ${listed(lines)}` : 'the clamp'} round`;
    if (kind === 'wrong-phase')
      return 'give it the voltage of its own line, or set the phase of this circuit right';
    return lines.length > 0 ? `exchange the leads of ${listed(lines)}` : 'move each clamp to its own line';
  });
  const text = listed(todo);
  return `${text.charAt(0).toUpperCase()}${text.slice(1)}.`;
}

/** The setting by which the device itself turns round what reads wrongly; null where it has none that does. */
function turnedInDevice(faults: readonly Fault[], { settings }: Look): string | null {
  const lines = faults.filter((f) => f.kind === 'reversed').flatMap((f) => f.lines);
  const set = settings?.set.find(
    ({ role, read, phase }) =>
      role === 'reversed' &&
      read !== null &&
      read !== 0 &&
      (phase === null || lines.some((l) => l === phase)),
  );
  return set?.name ?? null;
}

/** The figures that it depends on: cos φ by line, or the current where no power is read. */
export function restsOn(readings: readonly LineReading[]): string {
  return readings
    .map((r) =>
      r.watts === null || !(r.volts * r.amperes > 0)
        ? `${r.line} ${r.amperes.toFixed(2)} A`
        : `${r.line} cos φ ${(r.watts / (r.volts * r.amperes)).toFixed(2).replace('-', '−')}`,
    )
    .join(' · ');
}
