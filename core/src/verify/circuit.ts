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
}
