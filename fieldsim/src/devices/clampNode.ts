import type { Flow } from '../building/building.js';
import type { Line } from '../building/load.js';
import { noise } from '../building/noise.js';
import type { FieldDevice } from './device.js';

export interface ClampChannel {
  line: Line;
  flow(): Flow;
  /** Error of the transducer: the node sees gain · true. */
  gain: number;
  /** Current that the channel shows with nothing in its jaws, A. */
  zero: number;
}

/** Full scale of the channels: 9999 counts. */
const AMPERES = 60;
const WATTS = 14_000;
const COUNTS = 9999;

/**
 * A node with four clamps and a voltage tap, all in raw counts: each channel takes ten input registers from
 * 100, 110, 120, 130: current (0–9999 ↔ 0–60 A), active power (signed, 9999 ↔ 14 kW), power factor (‰, signed).
 */
export class ClampNode implements FieldDevice {
  readonly unit = 1;
  /** Channels (0–3) whose clamp is the wrong way round. */
  readonly reversed = new Set<number>();

  constructor(
    readonly name: string,
    private readonly channels: ClampChannel[],
    private readonly now: () => number,
    private readonly seed: number,
  ) {}

  private counts(index: number): [number, number, number] {
    const channel = this.channels[index] as ClampChannel;
    const flow = channel.flow()[channel.line];
    const jitter = 0.0025 * noise(this.seed, `clamp${index}`, Math.floor(this.now() / 500));
    const amperes = flow.amperes * channel.gain + channel.zero + (flow.amperes > 0.01 ? jitter : jitter / 4);
    const watts = flow.watts * channel.gain * (this.reversed.has(index) ? -1 : 1);
    const apparent = Math.hypot(flow.watts, flow.vars);
    const factor = apparent > 0.5 ? (flow.watts / apparent) * (this.reversed.has(index) ? -1 : 1) : 1;
    return [
      clampTo(Math.round((amperes / AMPERES) * COUNTS), 0, COUNTS),
      clampTo(Math.round((watts / WATTS) * COUNTS), -COUNTS, COUNTS),
      Math.round(factor * 1000),
    ];
  }

  values(): Record<string, number> {
    return Object.fromEntries(
      this.channels.flatMap((_, i) => {
        const [current, power, factor] = this.counts(i);
        return [
          [`current-${i + 1}`, (current / COUNTS) * AMPERES],
          [`power-${i + 1}`, (power / COUNTS) * WATTS],
          [`power-factor-${i + 1}`, factor / 1000],
        ];
      }),
    );
  }

  register(address: number): number | undefined {
    const channel = Math.floor(address / 10) - 10;
    const place = address % 10;
    if (channel < 0 || channel >= this.channels.length || place > 2) return undefined;
    return (this.counts(channel)[place] as number) & 0xffff;
  }

  bit(): undefined {
    return undefined;
  }

  writeCoil(): boolean {
    return false;
  }
}

const clampTo = (value: number, low: number, high: number): number => Math.max(low, Math.min(high, value));
