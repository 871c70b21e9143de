import { NO_BITS, type FieldDevice } from './device.js';

/** One value of a meter with its own register table. */
export interface TableValue {
  key: string;
  /** First register on the wire. */
  at: number;
  /** Words that lie there for a value in base units. */
  words(value: number): number[];
  /** The value in base units that those words stand for: what the device shows. */
  shown(value: number): number;
  value(): number;
}

/** A meter described by a table of registers: most of the building's are. */
export class TableMeter implements FieldDevice {
  readonly bit = NO_BITS.bit;
  readonly writeCoil = NO_BITS.writeCoil;

  constructor(
    readonly name: string,
    readonly unit: number,
    private readonly table: TableValue[],
    readonly identification?: readonly [string, string, string],
    private readonly commands: Map<number, (value: number) => void> = new Map(),
  ) {}

  values(): Record<string, number> {
    return Object.fromEntries(this.table.map((v) => [v.key, v.shown(v.value())]));
  }

  register(address: number): number | undefined {
    for (const entry of this.table) {
      if (address < entry.at || address > entry.at + 3) continue;
      const words = entry.words(entry.value());
      if (address < entry.at + words.length) return words[address - entry.at];
    }
    return this.commands.has(address) ? 0 : undefined;
  }

  writeRegister(address: number, value: number): boolean {
    const command = this.commands.get(address);
    command?.(value);
    return command !== undefined;
  }
}

/** How a value lies in registers. */
export type Encoding = Pick<TableValue, 'words' | 'shown'>;

const split = (n: number): number[] => [(n >>> 16) & 0xffff, n & 0xffff];

/** A whole number of `step` units in one word, signed. */
export const int16 = (step: number): Encoding => ({
  words: (v) => [Math.round(v / step) & 0xffff],
  shown: (v) => Math.round(v / step) * step,
});
/** A whole number of `step` units in two words, signed, most significant first. */
export const int32 = (step: number): Encoding => ({
  words: (v) => split(Math.round(v / step)),
  shown: (v) => Math.round(v / step) * step,
});
/** A float, the least significant word first. */
export const swappedFloat: Encoding = {
  words: (v) => {
    const view = new DataView(new ArrayBuffer(4));
    view.setFloat32(0, v);
    return [view.getUint16(2), view.getUint16(0)];
  },
  shown: Math.fround,
};
export const plainFloat: Encoding = {
  words: (v) => [...swappedFloat.words(v)].reverse(),
  shown: Math.fround,
};
/** Whole units in one register, hundredths in the next. */
export const wholeAndHundredths: Encoding = {
  words: (v) => {
    const hundredths = Math.round(Math.abs(v) * 100);
    const whole = Math.floor(hundredths / 100);
    return [(v < 0 ? -whole : whole) & 0xffff, hundredths % 100];
  },
  shown: (v) => Math.round(v * 100) / 100,
};
/** A state in a bit of a word. */
export const word: Encoding = { words: (v) => [v & 0xffff], shown: (v) => v };
