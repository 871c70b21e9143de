import { Building, HOME, totalVars, totalWatts, type Flow } from './building/building.js';
import { LINES, type Line } from './building/load.js';
import { ClampNode } from './devices/clampNode.js';
import type { FieldDevice } from './devices/device.js';
import { MeterSettings } from './devices/meterSettings.js';
import { RelayBoard } from './devices/relayBoard.js';
import { SunspecMeter } from './devices/sunspecMeter.js';
import {
  command,
  int16,
  int32,
  kept,
  plainFloat,
  swappedFloat,
  TableMeter,
  wholeAndHundredths,
  word,
  type Encoding,
  type TableValue,
} from './devices/tableMeter.js';
import { Wiring, type MeteredPlace } from './wiring/wiring.js';
import { ThreePhaseMeter } from './devices/threePhaseMeter.js';
import { bareClamp, plugMeter, thermometer } from './messages/nodes.js';
import type { NodeSpec } from './messages/node.js';

/** The loads behind the relays of the relay board, in the order of its coils. */
export const RELAY_LOADS = ['hot-water', 'espresso', 'bakery-lighting', 'mixer'];

/**
 * The site's own wrong wiring, to be found: 23 days and 10 hours into its life somebody worked at the dishwasher's terminals
 * and left a bridge, so that its meter sees a part of the current only.
 */
const BRIDGED_AFTER = (23 * 24 + 10) * 3_600_000;
const BRIDGE_LEAVES = 0.23;

/** How coarse the steps are while the building is run faster than time, ms. */
export const HISTORY_STEP = 30_000;

/** The addresses of the building at which Modbus devices answer. */
export const STATION_NAMES = [
  'main-meter',
  'oven-meter',
  'clamp-node',
  'relay-board',
  'gateway',
  'van-meter',
  'numbered',
  'mixer-meter',
  'office-meter',
  'inverter',
  'dc-sensor',
] as const;
export type StationName = (typeof STATION_NAMES)[number];

/** How the DC sensor is connected: its arrow, and plus and minus of its tap. */
export interface DcWiring {
  turned: boolean;
  exchanged: boolean;
}

export interface Site {
  building: Building;
  /** What answers at each address: one device, or the units behind a gateway. */
  stations: Record<StationName, FieldDevice[]>;
  nodes: NodeSpec[];
  clampNode: ClampNode;
  relayBoard: RelayBoard;
  wiring: Wiring;
  dcWired: DcWiring;
}

/** All that has values, for the history and the control port. */
export const valuesOf = ({ stations, nodes }: Site): { name: string; values: Record<string, number> }[] => [
  ...Object.values(stations)
    .flat()
    .map((d) => ({ name: d.name, values: d.values() })),
  ...nodes.map((n) => ({ name: n.name, values: n.values() })),
];

/** The sample site's building and its devices, at the instant `since`; its day is that of a zone. */
export function buildSite(seed: number, since: number, zone = HOME): Site {
  const building = new Building(seed, since, zone);
  const wiring = new Wiring(building);
  const flowOf = (load: string) => () => building.flows.get(load) ?? building.supply;
  /** What a meter sees of a load. */
  const seen = (name: string, load: string, lines: readonly Line[] = LINES) =>
    wiring.place(name, lines, flowOf(load));
  /** A clamp of the node, or of the radio, on one line. */
  const clamped = (name: string, load: string, line: Line) => {
    const place = seen(name, load, [line]);
    return { line, flow: () => place.flow() };
  };
  const energyOf = (name: string, base: number, place: MeteredPlace) => () =>
    base + (building.energy.get(name) ?? 0) + place.counter.taken;
  const frequency = () => building.frequency;
  const clampNode = new ClampNode(
    'clamp-node',
    [
      { ...clamped('clamp-node-1', 'cold-room', 'L2'), gain: 0.982, zero: 0.03 },
      { ...clamped('clamp-node-2', 'hot-water', 'L1'), gain: 0.951, zero: 0.048 },
      { ...clamped('clamp-node-3', 'espresso', 'L3'), gain: 0.949, zero: 0.042 },
      { ...clamped('clamp-node-4', 'bakery-lighting', 'L1'), gain: 1.021, zero: 0.012 },
    ],
    () => building.t,
    seed,
  );
  const relayBoard = new RelayBoard('relay-board', building, RELAY_LOADS);
  const meter = (name: string, load: string, base: number) => {
    const place = seen(name, load);
    const wired = {
      flow: () => place.flow(),
      frequency,
      energy: energyOf(load, base, place),
      fedBack: () => place.counter.given,
    };
    return new ThreePhaseMeter(name, wired, new MeterSettings(60, 5, place));
  };
  const supply = wiring.place('main-meter', LINES, () => building.supply);
  const dcWired: DcWiring = { turned: false, exchanged: false };
  const charger = seen('van-meter', 'van-charger');
  const stations: Site['stations'] = {
    'main-meter': [
      new ThreePhaseMeter(
        'main-meter',
        {
          flow: () => supply.flow(),
          frequency,
          energy: energyOf('supply', 48_211_000, supply),
          fedBack: () => 9_120_000 + (building.fedBack.get('supply') ?? 0) + supply.counter.given,
        },
        new MeterSettings(100, 5, supply),
      ),
    ],
    'oven-meter': [meter('oven-meter', 'deck-oven', 21_874_000)],
    'clamp-node': [clampNode],
    'relay-board': [relayBoard],
    gateway: [
      singlePhaseMeter(
        building,
        seen('display-counter-meter', 'display-counter', ['L1']),
        1,
        'display-counter',
        'L1',
      ),
      singlePhaseMeter(building, seen('dishwasher-meter', 'dishwasher', ['L2']), 2, 'dishwasher', 'L2'),
      singlePhaseMeter(
        building,
        seen('shop-lighting-meter', 'shop-lighting', ['L2']),
        3,
        'shop-lighting',
        'L2',
      ),
      singlePhaseMeter(building, seen('espresso-meter', 'espresso', ['L3']), 4, 'espresso', 'L3'),
    ],
    'van-meter': [
      new SunspecMeter('van-meter', 1, {
        flow: () => charger.flow(),
        frequency,
        energy: energyOf('van-charger', 3_408_000, charger),
        fedBack: () => charger.counter.given,
      }),
    ],
    numbered: [numberedDevice(building)],
    'mixer-meter': [swappedMeter(building, seen('mixer-meter', 'mixer'))],
    'office-meter': [countsFromOne(building)],
    inverter: [inverter(building)],
    'dc-sensor': [dcSensor(building, dcWired)],
  };
  const nodes = [
    plugMeter(building, seen('plug-cabinet', 'network-cabinet', ['L3']), 'network-cabinet', 'L3', 412_000),
    plugMeter(building, seen('plug-prover', 'prover', ['L3']), 'prover', 'L3', 96_300),
    bareClamp(seen('clamp-fan', 'extraction-fan', ['L1']), 'L1'),
    thermometer('yard', () => building.outdoors),
  ];
  wiring.plan(since + BRIDGED_AFTER, 'dishwasher-meter', { kind: 'bypassed', share: BRIDGE_LEAVES });
  // One short step, so that every flow exists from the start.
  building.advance(since + 100, 100);
  return { building, stations, nodes, clampNode, relayBoard, wiring, dcWired };
}

const factorOf = ({ watts, vars }: { watts: number; vars: number }): number => {
  const apparent = Math.hypot(watts, vars);
  return apparent > 0.5 ? watts / apparent : 1;
};

/** Four of these hang on a gateway: whole numbers in input registers from 0. */
function singlePhaseMeter(
  building: Building,
  place: MeteredPlace,
  unit: number,
  load: string,
  line: Line,
): TableMeter {
  // It measures again each interval, and shows what it measured last.
  const interval = { ms: 100 };
  const held = { at: NaN, flow: place.flow()[line] };
  const flow = () => {
    const at = Math.floor(building.t / interval.ms);
    if (at !== held.at) Object.assign(held, { at, flow: place.flow()[line] });
    return held.flow;
  };
  const peak = { watts: 0 };
  const table = tableOf(0, [
    ['voltage', int16(0.1), () => flow().volts],
    ['current', int32(0.001), () => flow().amperes],
    ['power', int32(0.1), () => flow().watts],
    ['power-factor', int16(0.001), () => factorOf(flow())],
    ['frequency', int16(0.01), () => building.frequency],
    [
      'energy-import',
      int32(10),
      () => 640_000 * unit + (building.energy.get(load) ?? 0) + place.counter.taken,
    ],
    ['peak-power', int32(0.1), () => (peak.watts = Math.max(peak.watts, flow().watts))],
  ]);
  const written = new Map([
    [100, command(() => (peak.watts = 0))],
    // Its settings: a gain of the current, in ten-thousandths; the interval in which it measures, in tenths of a second.
    [200, kept(10_000, [5000, 20_000], (gain) => (place.set[line] = gain / 10_000))],
    [201, kept(1, [1, 600], (tenths) => (interval.ms = 100 * tenths))],
  ]);
  return new TableMeter(place.name, unit, table, ['Brindlewick', 'Single-phase meter', '2.1'], written);
}

/** Sixteen floats with numbers for names, as some measuring modules have them. */
function numberedDevice(building: Building): TableMeter {
  const line = (load: string, l: Line) => (building.flows.get(load) ?? building.supply)[l];
  const quantities: (() => number)[] = [
    () => line('shop-lighting', 'L2').watts,
    () => building.supply.L2.volts,
    () => line('display-counter', 'L1').watts,
    () => line('bakery-lighting', 'L1').watts,
    () => building.frequency,
    () => line('espresso', 'L3').amperes,
    () => line('dishwasher', 'L2').watts,
    () => 21.4 + 2 * Math.sin(building.t / 7_200_000),
    () => line('hot-water', 'L1').watts,
    () => building.supply.L1.volts,
    () => line('espresso', 'L3').watts,
    () => line('prover', 'L3').amperes,
    () => building.energy.get('bakery-lighting') ?? 0,
    () => line('hot-water', 'L1').amperes,
    () => line('extraction-fan', 'L1').watts,
    () => building.supply.L3.volts,
  ];
  return new TableMeter(
    'numbered',
    1,
    tableOf(
      0,
      quantities.map((value, i) => [`value-${i + 1}`, plainFloat, value]),
    ),
  );
}

/** The mixer's meter: floats in holding registers from 4000, the least significant word first. */
function swappedMeter(building: Building, place: MeteredPlace): TableMeter {
  const flow = () => place.flow();
  const watts = () => totalWatts(flow());
  const table = tableOf(4000, [
    ...LINES.map((l): Row => [`voltage-${l.toLowerCase()}`, swappedFloat, () => flow()[l].volts]),
    ...LINES.map((l): Row => [`current-${l.toLowerCase()}`, swappedFloat, () => flow()[l].amperes]),
    ['power-total', swappedFloat, watts],
    ['power-factor', swappedFloat, () => factorOf({ watts: watts(), vars: totalVars(flow()) })],
    [
      'energy-import',
      swappedFloat,
      () => 4_310_000 + (building.energy.get('mixer') ?? 0) + place.counter.taken,
    ],
  ]);
  return new TableMeter('mixer-meter', 1, table, ['Brindlewick', 'Motor meter', '1.0']);
}

/** The office's meter: its table counts from 1, and each value has a register of hundredths behind it. */
function countsFromOne(building: Building): TableMeter {
  const parts = ['office', 'network-cabinet'];
  const sum = (of: (line: Flow['L3']) => number) =>
    parts.reduce((total, load) => total + of((building.flows.get(load) ?? building.supply).L3), 0);
  const watts = () => sum((l) => l.watts);
  const vars = () => sum((l) => l.vars);
  const table: TableValue[] = tableOf(100, [
    ['voltage', wholeAndHundredths, () => building.supply.L3.volts],
    ['current', wholeAndHundredths, () => Math.hypot(watts(), vars()) / building.supply.L3.volts],
    ['power', wholeAndHundredths, watts],
    ['power-factor', wholeAndHundredths, () => factorOf({ watts: watts(), vars: vars() })],
  ]);
  return new TableMeter('office-meter', 1, table);
}

/** The inverter with its PV and battery: holding registers from 500, and a word of states. */
function inverter(building: Building): TableMeter {
  const pv = () => -totalWatts(building.flows.get('pv') ?? building.supply);
  const { battery } = building;
  const states = () => (pv() > 20 ? 1 : 0) | (battery.watts < -20 ? 2 : 0) | (battery.watts > 20 ? 4 : 0);
  const table = tableOf(500, [
    ['pv-power', int32(1), pv],
    ['pv-voltage', int16(0.1), () => (pv() > 20 ? 610 + pv() / 400 : 0)],
    ['battery-power', int32(1), () => battery.watts],
    ['battery-voltage', int16(0.01), () => battery.volts],
    ['state-of-charge', int16(0.1), () => battery.charge],
    ['pv-energy', int32(100), () => 31_204_000 + (building.fedBack.get('pv') ?? 0)],
    ['state', word, () => (pv() > 20 ? 2 : 1)],
    ['flags', word, states],
  ]);
  // How much of the battery is kept, in tenths of a percent.
  table.push({ key: 'reserve', at: 520, ...int16(0.1), value: () => 100 * battery.reserve });
  const reserve = kept(1000 * battery.reserve, [50, 1000], (tenths) => (battery.reserve = tenths / 1000));
  const written = new Map([[520, reserve]]);
  return new TableMeter('inverter', 1, table, ['Brindlewick', 'Hybrid inverter', '3.0'], written);
}

/** A Hall sensor and a voltage tap on the battery's DC line: signed counts, 8000 counts are 200 A and 80 V. */
function dcSensor(building: Building, wired: DcWiring): TableMeter {
  const { battery } = building;
  const table = tableOf(0, [
    ['dc-current', int16(200 / 8000), () => ((wired.turned ? -1 : 1) * battery.watts) / battery.volts],
    ['dc-voltage', int16(80 / 8000), () => (wired.exchanged ? -1 : 1) * battery.volts],
  ]);
  return new TableMeter('dc-sensor', 1, table);
}

type Row = [key: string, encoding: Encoding, value: () => number];

/** Values one after the other from a first register on. */
function tableOf(first: number, rows: Row[]): TableValue[] {
  let at = first;
  return rows.map(([key, encoding, value]) => {
    const entry = { key, at, value, ...encoding };
    at += encoding.words(0).length;
    return entry;
  });
}
