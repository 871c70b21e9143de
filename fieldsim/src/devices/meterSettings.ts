import { LINES, type Line } from '../building/load.js';
import type { MeteredPlace } from '../wiring/wiring.js';

/** Register of the first setting. */
const FIRST = 1000;
const UNITY_GAIN = 10_000;
export const WIRING_MODES = { 'four-wire': 0, 'single-phase': 1 } as const;

/**
 * The settings of a meter behind transformers, in holding registers from 1000: primary current, A; secondary current, A;
 * wiring mode (0 three phases with neutral, 1 L1 alone); then a gain of the current for each line, in ten-thousandths.
 * They are what its maker says they are: a wrong one makes wrong readings.
 */
export class MeterSettings {
  private readonly words: number[];

  /** @param primary A of the transformers that are there, behind which it measures @param secondary A */
  constructor(
    private readonly primary: number,
    private readonly secondary: number,
    private readonly place: MeteredPlace,
  ) {
    this.words = [primary, secondary, WIRING_MODES['four-wire'], UNITY_GAIN, UNITY_GAIN, UNITY_GAIN];
  }

  register(address: number): number | undefined {
    return this.words[address - FIRST];
  }

  /** Writes a setting; false for what is none, or for a value that the meter refuses. */
  write(address: number, value: number): boolean {
    const index = address - FIRST;
    if (index < 0 || index >= this.words.length) return false;
    const refused = index === 2 ? value > 1 : value === 0;
    if (refused) return false;
    this.words[index] = value;
    this.apply();
    return true;
  }

  /** Whether the meter reads a line in the wiring mode that is set. */
  private reads = (line: Line): boolean => this.words[2] === WIRING_MODES['four-wire'] || line === 'L1';

  private apply(): void {
    const [primary, secondary, , ...gains] = this.words as [number, number, number, ...number[]];
    const ratio = (primary / secondary) * (this.secondary / this.primary);
    LINES.forEach((line, i) => {
      this.place.set[line] = this.reads(line) ? (ratio * (gains[i] as number)) / UNITY_GAIN : 0;
    });
  }
}
