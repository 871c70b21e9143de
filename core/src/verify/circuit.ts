import type { SupplySystem } from '../installation/system.js';
import type { StateName } from '../points/index.js';
import type { Phase, Quantity } from '../quantities/index.js';
import type { Sensing } from '../sensing/index.js';
import type { SettingRole } from '../settings/index.js';
import type { Line } from './phasors.js';
import type { Trace } from './trace.js';

/** What a meter reads of one line conductor, as it is labelled; null where it does not read it. */
export interface Channel {
  line: Line;
  /** V; where the meter gives none, one that is measured elsewhere on that phase. */
  voltage: Trace | null;
  /** A */
  current: Trace | null;
  /** W */
  power: Trace | null;
  /** var */
  reactive: Trace | null;
}

/** A metered place. */
export interface Metered {
  id: number;
  name: string;
  channels: Channel[];
  /** W, all lines together; null where only the lines are read. */
  total: Trace | null;
  /** Wh taken; null without a counter. */
  counter: Trace | null;
  /** W that reach what it feeds from elsewhere, by an inverter beside it; missing where nothing feeds in. */
  fed?: Trace | null;
}

/** How the meter gets at the current: around the conductor, in series with it, or not known. */
export type Reach = 'clamp' | 'series' | null;

/** What is known of a load without measuring it: its plate. */
export interface Plate {
  name: string;
  /** W at nominal voltage; null when it is not known. */
  watts: number | null;
  /** 1 for a heater; null when it is not known. */
  powerFactor: number | null;
}

/** What is known of a circuit. */
export interface Circuit {
  name: string;
  lines: Line[];
  /** How the lines of its supply stand to one another. */
  system: SupplySystem;
  /** V against neutral. */
  nominalVoltage: number;
  /** Hz */
  frequency: number;
  /** A of the protective device; null when it is not known. */
  ratedCurrent: number | null;
  /** Whether power may flow out of it. */
  feedsIn: boolean;
  reach: Reach;
  /** A up to which the transducer reads; null when it is not known. */
  range: number | null;
  /** The loads behind it; with all plates known, so is how its current lags. */
  loads: Plate[];
}

/** A load of the circuit was switched at an instant that is known: by a relay, or by a person who was asked to. */
export interface Switching {
  t: number;
  on: boolean;
  load: Plate;
  /** Whether its relay did it: then the step tells whether the relay is this circuit's. */
  byRelay?: boolean;
}

/** A setting inside the device of a place. */
export interface SettingSeen {
  role: SettingRole;
  name: string;
  unit: string;
  names?: readonly StateName[];
  /** The conductor that it is for; null for all. */
  phase: Phase | null;
  /** Base unit; null while it has not been read. */
  read: number | null;
  wanted: number | null;
  /** What it was before it was seen to change, and when, UTC ms; null where it never was. */
  before: number | null;
  changedAt: number | null;
  /** Its smallest change. */
  step: number;
}

/** What is set inside a device, and what Loka does to the same readings. */
export interface SettingsSeen {
  set: SettingSeen[];
  /** What Loka knows to sit before it; null where nobody has said. */
  sensing: Pick<Sensing, 'kind' | 'ratio' | 'ratedCurrent'> | null;
  /** Gains of Loka's calibrations in force. */
  gains: { name: string; quantity: Quantity; phase: Phase | null; gain: number; at: number }[];
}

/** What is measured of a DC side: by one device, and by others that read the same power. */
export interface DcSide {
  voltage: Trace | null;
  current: Trace | null;
  /** W */
  beside: { name: string; power: Trace }[];
}

/** An input of the device that belongs to no circuit. */
export interface UnusedInput {
  name: string;
  current: Trace;
  /** A up to which it reads; null when it is not known. */
  range: number | null;
}

/** All that a diagnosis looks at: readings over a window, and what is known of the installation. */
export interface Look {
  circuit: Circuit;
  own: Metered;
  /** The nearest metered place above, through which the circuit's current flows as well. */
  above: Metered | null;
  /** Metered places that neither feed this one nor are fed by it. */
  others: Metered[];
  /** Metered places that this one feeds. */
  below: Metered[];
  /** Other devices on the same conductor. */
  beside: Metered[];
  switchings: Switching[];
  /** When nothing could flow, because its relay was open or its breaker was opened on asking. */
  offSpans: { from: number; to: number }[];
  /** Hz */
  frequency: Trace | null;
  /** Missing where the device has no settings that can be read. */
  settings?: SettingsSeen | null;
  /** Missing where nothing DC is measured. */
  dc?: DcSide | null;
  unused?: UnusedInput[];
}
