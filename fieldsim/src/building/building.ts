import { LINES, NOMINAL_VOLTS, threePhase, type Draw, type Line, type Load } from './load.js';
import { LocalClock } from './localTime.js';
import { drift, noise } from './noise.js';
import { ColdRoom } from './loads/coldRoom.js';
import { DeckOven } from './loads/deckOven.js';
import { EspressoMachine } from './loads/espresso.js';
import { HotWaterCylinder } from './loads/hotWater.js';
import { Lighting } from './loads/lighting.js';
import { mixerDraw, SpiralMixer } from './loads/mixer.js';
import { Office } from './loads/office.js';
import {
  Dishwasher,
  DisplayCounter,
  DoughProver,
  ExtractionFan,
  fedIn,
  NetworkCabinet,
  VanCharger,
} from './loads/dayLoads.js';
import { Battery } from './battery.js';
import { solarWatts } from './solar.js';
import { outdoorCelsius } from './weather.js';

/** What flows on one line of a load or of the supply. */
export interface LineFlow {
  volts: number;
  amperes: number;
  /** Active power, W. */
  watts: number;
  /** Reactive power, var, inductive positive. */
  vars: number;
}

export type Flow = Record<Line, LineFlow>;

/** A load can be forced, as when a person works its own switch. */
export type LoadMode = 'auto' | 'on' | 'off';

/** Ohms per line of the supply up to the main board (resistive part; a long village feeder). */
const SOURCE_OHMS = 0.11;
/** What a forced load draws: its heater or lamp at full power. */
const FORCED: Record<string, Draw[]> = {
  'hot-water': [{ line: 'L1', watts: 3000, powerFactor: 1, exponent: 2 }],
  espresso: [{ line: 'L3', watts: 2842, powerFactor: 1, exponent: 2 }],
  'bakery-lighting': [{ line: 'L1', watts: 640, powerFactor: 0.93, exponent: 0 }],
  'cold-room': [{ line: 'L2', watts: 808, powerFactor: 0.8, exponent: 1 }],
  'deck-oven': threePhase(14_000, 1, 2),
  mixer: threePhase(2_400, 0.79, 1),
  prover: [{ line: 'L3', watts: 1800, powerFactor: 1, exponent: 2 }],
  'display-counter': [{ line: 'L1', watts: 530, powerFactor: 0.76, exponent: 1 }],
  dishwasher: [{ line: 'L2', watts: 3000, powerFactor: 1, exponent: 2 }],
  'shop-lighting': [{ line: 'L2', watts: 480, powerFactor: 0.93, exponent: 0 }],
  'extraction-fan': [{ line: 'L1', watts: 740, powerFactor: 0.63, exponent: 0 }],
};

/** Where the bakehouse stands. */
export const HOME = 'Europe/Lisbon';

/**
 * The electrical model of the sample site: loads behind relays on a supply with source impedance.
 * Deterministic from its seed; moved on by {@link advance} in steps of any size, forwards only.
 */
export class Building {
  readonly loads: Load[] = [
    new DeckOven(),
    new SpiralMixer(),
    new ColdRoom(),
    new HotWaterCylinder(),
    new EspressoMachine(),
    new Lighting('bakery-lighting', 'L1', 640, 2.25, 10),
    new Lighting('shop-lighting', 'L2', 480, 6.75, 18.25),
    new Office(),
    new DoughProver(),
    new DisplayCounter(),
    new Dishwasher(),
    new ExtractionFan(),
    new VanCharger(),
    new NetworkCabinet(),
  ];
  readonly battery = new Battery();
  /** Relay contacts by load; a load without an entry is wired through. */
  readonly contacts = new Map<string, boolean>();
  readonly modes = new Map<string, LoadMode>();
  /** How much of its full power a forced load draws, 0 to 1; all of it without an entry. */
  readonly shares = new Map<string, number>();
  /** The inverter taken off the grid, roof plant and battery with it, as in a test of the loads alone. */
  inverterOff = false;
  readonly flows = new Map<string, Flow>();
  /** Counters of imported energy in Wh, by load and for 'supply', 'pv' and 'battery'. */
  readonly energy = new Map<string, number>();
  /** Counters of what was fed the other way, Wh. */
  readonly fedBack = new Map<string, number>();
  supply: Flow = emptyFlow(NOMINAL_VOLTS);
  frequency = 50;
  /** °C. */
  outdoors: number;

  private readonly stepped: ((ms: number) => void)[] = [];
  private readonly clock: LocalClock;
  private readonly onSince = new Map<string, number>();
  /** For how many seconds loads have been switched on by hand. */
  private readonly forcedFor = new Map<string, number>();
  private volts: Record<Line, number> = { L1: 230, L2: 230, L3: 230 };

  constructor(
    private readonly seed: number,
    public t: number,
    zone = HOME,
  ) {
    this.clock = new LocalClock(zone);
    this.outdoors = outdoorCelsius(seed, t, this.clock.at(t).hour);
  }

  /**
   * Moves the building on to instant t in steps of at most `stepMs`, each of which ends at a multiple of it: on the way to
   * one instant it takes the same steps, however often it is stopped at such a multiple, so that its recorded past and the
   * building that runs are one.
   */
  advance(t: number, stepMs: number): void {
    while (this.t < t) this.step(Math.min(stepMs - (this.t % stepMs), t - this.t));
  }

  /** Has something follow every step. */
  onStep(follow: (ms: number) => void): void {
    this.stepped.push(follow);
  }

  private step(ms: number): void {
    this.t += ms;
    const clock = this.clock.at(this.t);
    this.outdoors = outdoorCelsius(this.seed, this.t, clock.hour);
    const supply = emptyFlow(0);
    for (const load of this.loads) {
      const powered = this.contacts.get(load.name) ?? true;
      const draws = this.drawsOf(load, powered, ms, clock);
      const flow = emptyFlow(0);
      for (const line of LINES) flow[line].volts = this.volts[line];
      for (const draw of draws) addDraw(flow, draw, this.volts[draw.line]);
      for (const line of LINES) {
        supply[line].watts += flow[line].watts;
        supply[line].vars += flow[line].vars;
      }
      this.flows.set(load.name, flow);
      this.count(load.name, flow, ms);
    }
    this.generate(supply, ms, clock.hour);
    this.settle(supply);
    this.count('supply', supply, ms);
    for (const follow of this.stepped) follow(ms);
  }

  /** The sun and the battery take their part of what would otherwise come from the grid. */
  private generate(supply: Flow, ms: number, hour: number): void {
    const watts = this.inverterOff ? 0 : solarWatts(this.seed, this.t, hour);
    const loads = totalWatts(supply);
    this.battery.step(this.inverterOff ? 0 : watts - loads, ms / 1000);
    for (const [name, power] of [
      ['pv', watts],
      ['battery', this.battery.watts],
    ] as const) {
      const flow = emptyFlow(0);
      for (const line of LINES) flow[line].volts = this.volts[line];
      for (const draw of fedIn(power)) addDraw(flow, draw, this.volts[draw.line]);
      for (const line of LINES) supply[line].watts += flow[line].watts;
      this.flows.set(name, flow);
      this.count(name, flow, ms);
    }
  }

  private drawsOf(
    load: Load,
    powered: boolean,
    ms: number,
    clock: { hour: number; weekday: number },
  ): Draw[] {
    const before = this.onSince.get(load.name);
    const mode = this.modes.get(load.name) ?? 'auto';
    const draws = load.step(
      {
        t: this.t,
        seconds: ms / 1000,
        clock,
        outdoors: this.outdoors,
        sinceOn: before === undefined ? Infinity : (this.t - before) / 1000,
      },
      powered && mode !== 'off',
    );
    const running = draws.some((d) => d.watts > 500);
    if (!running) this.onSince.delete(load.name);
    else if (before === undefined) this.onSince.set(load.name, this.t);
    if (mode !== 'on' || !powered) {
      this.forcedFor.delete(load.name);
      return draws;
    }
    const share = this.shares.get(load.name) ?? 1;
    const since = (this.forcedFor.get(load.name) ?? 0) + ms / 1000;
    this.forcedFor.set(load.name, since);
    if (load.name === 'mixer') return mixerDraw(since, 2_400 * share);
    return FORCED[load.name]?.map((d) => ({ ...d, watts: d.watts * share })) ?? draws;
  }

  /** Voltages at the main board from what flows; the loads see them in the next step. */
  private settle(supply: Flow): void {
    LINES.forEach((line, i) => {
      const open =
        233.4 +
        1.8 * drift(this.seed, 'grid', this.t, 900_000) +
        0.7 * drift(this.seed, line, this.t, 240_000) -
        0.3 * i;
      const flow = supply[line];
      flow.volts = this.volts[line] || NOMINAL_VOLTS;
      flow.amperes = Math.hypot(flow.watts, flow.vars) / flow.volts;
      const active = flow.watts / flow.volts;
      this.volts[line] = open - SOURCE_OHMS * active;
      flow.volts = this.volts[line];
    });
    this.frequency =
      50 +
      0.03 * drift(this.seed, 'frequency', this.t, 20_000) +
      0.004 * noise(this.seed, 'f', Math.floor(this.t / 1000));
    this.supply = supply;
  }

  private count(name: string, flow: Flow, ms: number): void {
    const watts = LINES.reduce((sum, line) => sum + flow[line].watts, 0);
    const counter = watts < 0 ? this.fedBack : this.energy;
    counter.set(name, (counter.get(name) ?? 0) + (Math.abs(watts) * ms) / 3_600_000);
  }
}

function addDraw(flow: Flow, draw: Draw, volts: number): void {
  const watts = draw.watts * (volts / NOMINAL_VOLTS) ** draw.exponent;
  const line = flow[draw.line];
  line.watts += watts;
  line.vars += watts * Math.tan(Math.acos(draw.powerFactor));
  line.amperes = Math.hypot(line.watts, line.vars) / volts;
}

function emptyFlow(volts: number): Flow {
  const line = (): LineFlow => ({ volts, amperes: 0, watts: 0, vars: 0 });
  return { L1: line(), L2: line(), L3: line() };
}

export const totalWatts = (flow: Flow): number => LINES.reduce((sum, line) => sum + flow[line].watts, 0);
export const totalVars = (flow: Flow): number => LINES.reduce((sum, line) => sum + flow[line].vars, 0);
