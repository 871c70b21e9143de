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
    private readonly written: ReadonlyMap<number, WrittenRegister> = new Map(),
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
    return this.written.get(address)?.read();
  }

  writeRegister(address: number, value: number): boolean {
    return this.written.get(address)?.write(value) ?? false;
  }
}

/** A register that is written: a command, or a setting that the meter keeps. */
export interface WrittenRegister {
  read(): number;
  /** False for a value that the meter refuses. */
  write(value: number): boolean;
}

/** A command that the value 1 gives; it reads 0. */
export const command = (act: () => void): WrittenRegister => ({
  read: () => 0,
  write: (value) => {
    if (value === 1) act();
    return true;
  },
});

/** A setting that is kept, between two bounds. */
export function kept(
  value: number,
  [low, high]: readonly [number, number],
  use: (value: number) => void = () => undefined,
): WrittenRegister {
  let now = value;
  return {
    read: () => now,
    write: (next) => {
      if (next < low || next > high) return false;
      use((now = next));
      return true;
    },
  };
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
