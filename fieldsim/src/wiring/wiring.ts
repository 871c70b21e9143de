import { LINES, type Line } from '../building/load.js';
import type { Building, Flow, LineFlow } from '../building/building.js';

/** How a meter of the building can be wired, rightly or wrongly. */
export type WiringFault =
  | { kind: 'none' }
  /** Clamps turned round; all of them where no lines are named. */
  | { kind: 'reversed'; lines?: Line[] }
  /** Two clamps have changed places. */
  | { kind: 'swapped'; lines: [Line, Line] }
  /** The current is multiplied with the voltage of this line. */
  | { kind: 'wrong-phase'; line: Line }
  /** Line and neutral go through the clamp; only what leaks is left. */
  | { kind: 'both-conductors' }
  /** A bridge lets only this share of the current through the meter. */
  | { kind: 'bypassed'; share: number }
  /** The clamp is on the conductor of another load. */
  | { kind: 'other-circuit'; load: string }
  | { kind: 'wrong-ratio'; factor: number }
  /** It repeats what it read when the fault began. */
  | { kind: 'stuck' }
  /** The transducer gives no more than this, A. */
  | { kind: 'clipped'; amperes: number };

export const WIRING_KINDS = [
  'none',
  'reversed',
  'swapped',
  'wrong-phase',
  'both-conductors',
  'bypassed',
  'other-circuit',
  'wrong-ratio',
  'stuck',
  'clipped',
] as const;

/** Where the voltages of the three lines stand, radians: L1, then L2, then L3. */
const STANDS: Record<Line, number> = { L1: 0, L2: (-2 * Math.PI) / 3, L3: (2 * Math.PI) / 3 };
/** Of a current whose two conductors go through the clamp this is left. */
const LEAKS = 0.001;

/** A meter at its place: what flows there, and what it sees of it. */
export class MeteredPlace {
  fault: WiringFault = { kind: 'none' };
  /** By what its own settings multiply the current of each line: 1 where they are right. */
  readonly set: Record<Line, number> = { L1: 1, L2: 1, L3: 1 };
  private frozen: Flow | null = null;
  /** Wh by which its counters differ from what truly flowed. */
  private readonly counted = { taken: 0, given: 0 };

  constructor(
    readonly name: string,
    /** The lines on which it has its clamps. */
    readonly lines: readonly Line[],
    private readonly building: Building,
    private readonly truth: () => Flow,
    private readonly flowOf: (load: string) => Flow,
  ) {}

  wire(fault: WiringFault): void {
    this.fault = { kind: 'none' };
    this.frozen = fault.kind === 'stuck' ? copyOf(this.truth()) : null;
    this.fault = fault;
  }

  /** What the meter sees. */
  flow(): Flow {
    const { fault } = this;
    if (this.isRight) return this.truth();
    if (this.frozen) return this.frozen;
    const real = fault.kind === 'other-circuit' ? this.flowOf(fault.load) : this.truth();
    return Object.fromEntries(LINES.map((line) => [line, this.seen(line, real)])) as Flow;
  }

  private get isRight(): boolean {
    return this.fault.kind === 'none' && LINES.every((line) => this.set[line] === 1);
  }

  /** What its counters say beyond what truly flowed, Wh. */
  get counter(): Readonly<{ taken: number; given: number }> {
    return this.counted;
  }

  /** Time goes on: its counters count what it sees, not what flows. */
  count(ms: number): void {
    if (this.isRight) return;
    const [truth, seen] = [this.truth(), this.flow()].map((flow) =>
      this.lines.reduce((sum, line) => sum + flow[line].watts, 0),
    ) as [number, number];
    const hours = ms / 3_600_000;
    this.counted.taken += (Math.max(0, seen) - Math.max(0, truth)) * hours;
    this.counted.given += (Math.max(0, -seen) - Math.max(0, -truth)) * hours;
  }

  private seen(label: Line, real: Flow): LineFlow {
    const { fault } = this;
    const on = fault.kind === 'swapped' ? exchanged(label, fault.lines) : label;
    const tap = fault.kind === 'wrong-phase' ? fault.line : label;
    const volts = this.building.supply[tap].volts;
    // A clamp on another circuit has that circuit's line in its jaws.
    const source = fault.kind === 'other-circuit' ? busiest(real, on) : on;
    const { watts, vars } = real[source];
    const angle = STANDS[source] - Math.atan2(vars, watts) + (isTurned(fault, label) ? Math.PI : 0);
    const amperes =
      throughClamp(Math.hypot(watts, vars) / this.building.supply[source].volts, fault) * this.set[label];
    const lag = STANDS[tap] - angle;
    return {
      volts,
      amperes,
      watts: volts * amperes * Math.cos(lag),
      vars: volts * amperes * Math.sin(lag),
    };
  }
}

/** The meters of the building by name. */
export class Wiring {
  readonly places = new Map<string, MeteredPlace>();
  private readonly planned: { at: number; place: MeteredPlace; fault: WiringFault }[] = [];

  constructor(private readonly building: Building) {
    building.onStep((ms) => this.step(ms));
  }

  place(name: string, lines: readonly Line[], truth: () => Flow): MeteredPlace {
    const flowOf = (load: string) => this.building.flows.get(load) ?? this.building.supply;
    const place = new MeteredPlace(name, lines, this.building, truth, flowOf);
    this.places.set(name, place);
    return place;
  }

  /** Has a fault begin at an instant of the building's life. */
  plan(at: number, name: string, fault: WiringFault): void {
    const place = this.places.get(name);
    if (!place) throw new Error(`no meter ${name}; there are ${[...this.places.keys()].join(', ')}`);
    this.planned.push({ at, place, fault });
  }

  private step(ms: number): void {
    for (const due of this.planned.filter((p) => p.at <= this.building.t)) {
      due.place.wire(due.fault);
      this.planned.splice(this.planned.indexOf(due), 1);
    }
    for (const place of this.places.values()) place.count(ms);
  }
}

function throughClamp(amperes: number, fault: WiringFault): number {
  switch (fault.kind) {
    case 'both-conductors':
      return amperes * LEAKS;
    case 'bypassed':
      return amperes * fault.share;
    case 'wrong-ratio':
      return amperes * fault.factor;
    case 'clipped':
      return Math.min(amperes, fault.amperes);
    default:
      return amperes;
  }
}

const isTurned = (fault: WiringFault, label: Line): boolean =>
  fault.kind === 'reversed' && (fault.lines === undefined || fault.lines.includes(label));

const exchanged = (line: Line, [a, b]: readonly [Line, Line]): Line =>
  line === a ? b : line === b ? a : line;

/** The line of a load that carries most, where the one that is asked for carries nothing. */
function busiest(flow: Flow, line: Line): Line {
  if (Math.abs(flow[line].watts) > 1) return line;
  return LINES.reduce((a, b) => (Math.abs(flow[b].watts) > Math.abs(flow[a].watts) ? b : a), line);
}

const copyOf = (flow: Flow): Flow => ({ L1: { ...flow.L1 }, L2: { ...flow.L2 }, L3: { ...flow.L3 } });

/** Reads a fault as it is typed at the control port. @throws Error that says what would be right */
export function wiringFault(body: Record<string, unknown>): WiringFault {
  const kind = WIRING_KINDS.find((k) => k === body.kind);
  const number = (key: string): number => {
    const value = body[key];
    if (typeof value !== 'number' || !Number.isFinite(value))
      throw new Error(`${kind} wants ${key}, a number`);
    return value;
  };
  const line = (value: unknown): Line => {
    const found = LINES.find((l) => l === value);
    if (!found) throw new Error(`${String(value)} is no line; L1, L2 or L3 are`);
    return found;
  };
  const lines = Array.isArray(body.lines) ? body.lines.map(line) : [];
  switch (kind) {
    case undefined:
      throw new Error(`no wiring ${String(body.kind)}; there are ${WIRING_KINDS.join(', ')}`);
    case 'reversed':
      return lines.length > 0 ? { kind, lines } : { kind };
    case 'swapped':
      if (lines.length !== 2) throw new Error('swapped wants two lines');
      return { kind, lines: lines as [Line, Line] };
    case 'wrong-phase':
      return { kind, line: line(body.line) };
    case 'bypassed':
      return { kind, share: number('share') };
    case 'wrong-ratio':
      return { kind, factor: number('factor') };
    case 'clipped':
      return { kind, amperes: number('amperes') };
    case 'other-circuit':
      if (typeof body.load !== 'string')
        throw new Error('other-circuit wants the load on whose conductor it is');
      return { kind, load: body.load };
    default:
      return { kind };
  }
}
