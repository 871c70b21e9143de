import { emptySlots, type Slots } from './slots.js';

/**
 * A page of slots as bytes: which slots are known, then the columns of those alone. A column that is the same in all of
 * them is one number, and one that equals the mean is none. `flow` is what energy is made of, `shape` what a drawing
 * needs besides; little-endian throughout.
 */
export interface PageBytes {
  flow: Uint8Array;
  shape: Uint8Array;
}

/** Thrown for bytes that are no page. */
export class PageError extends Error {
  override name = 'PageError';
}

const PLAIN = 0;
const CONSTANT = 1;
const LIKE_MEAN = 2;

/** Writes numbers one after the other into a buffer that is large enough. */
class Writer {
  private readonly view: DataView;
  private at = 0;
  constructor(size: number) {
    this.view = new DataView(new ArrayBuffer(size));
  }
  byte(value: number): void {
    this.view.setUint8(this.at++, value);
  }
  whole(value: number): void {
    this.view.setUint32(this.at, value, true);
    this.at += 4;
  }
  double(value: number): void {
    this.view.setFloat64(this.at, value, true);
    this.at += 8;
  }
  done(): Uint8Array {
    return new Uint8Array(this.view.buffer, 0, this.at);
  }
}

class Reader {
  private readonly view: DataView;
  private at = 0;
  constructor(bytes: Uint8Array) {
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  }
  byte(): number {
    return this.view.getUint8(this.at++);
  }
  whole(): number {
    this.at += 4;
    return this.view.getUint32(this.at - 4, true);
  }
  double(): number {
    this.at += 8;
    return this.view.getFloat64(this.at - 8, true);
  }
}

const isKnown = (slots: Slots, i: number): boolean =>
  (slots.covered[i] as number) > 0 || (slots.count[i] as number) > 0;

/** Whether any slot of a page is known at all. */
export function isEmptyPage(slots: Slots): boolean {
  for (let i = 0; i < slots.length; i++) if (isKnown(slots, i)) return false;
  return true;
}

/** Packs slots into bytes; {@link decodePage} gives the same slots back, bit by bit. */
export function encodePage(slots: Slots): PageBytes {
  const known: number[] = [];
  for (let i = 0; i < slots.length; i++) if (isKnown(slots, i)) known.push(i);
  const flow = new Writer(2 + Math.ceil(slots.length / 8) + 3 + known.length * 24 + 24);
  writeKnown(flow, slots);
  writeDoubles(flow, slots.plus, known);
  writeDoubles(flow, slots.minus, known);
  writeWholes(flow, slots.covered, known);
  const shape = new Writer(4 + known.length * 28 + 32);
  const mean = (i: number) => (slots.plus[i] as number) - (slots.minus[i] as number);
  for (const column of [slots.min, slots.max, slots.last]) writeDoubles(shape, column, known, mean);
  writeWholes(shape, slots.count, known);
  return { flow: flow.done(), shape: shape.done() };
}

/**
 * The slots of a page. Without `shape` only flow is known: min, max, last and count stay as in empty slots.
 * @throws PageError
 */
export function decodePage(start: number, step: number, flow: Uint8Array, shape: Uint8Array | null): Slots {
  try {
    const read = new Reader(flow);
    const { length, known } = readKnown(read);
    const slots = emptySlots(start, step, length);
    readDoubles(read, slots.plus, known);
    readDoubles(read, slots.minus, known);
    readWholes(read, slots.covered, known);
    if (shape === null) return slots;
    const more = new Reader(shape);
    const mean = (i: number) => (slots.plus[i] as number) - (slots.minus[i] as number);
    for (const column of [slots.min, slots.max, slots.last]) readDoubles(more, column, known, mean);
    readWholes(more, slots.count, known);
    return slots;
  } catch (error) {
    if (error instanceof RangeError)
      throw new PageError(`page at ${start} is cut off: ${flow.length} and ${shape?.length} bytes`);
    throw error;
  }
}

function writeKnown(write: Writer, slots: Slots): void {
  write.byte(slots.length & 0xff);
  write.byte(slots.length >> 8);
  for (let i = 0; i < slots.length; i += 8) {
    let bits = 0;
    for (let k = 0; k < 8 && i + k < slots.length; k++) if (isKnown(slots, i + k)) bits |= 1 << k;
    write.byte(bits);
  }
}

function readKnown(read: Reader): { length: number; known: number[] } {
  const length = read.byte() | (read.byte() << 8);
  const known: number[] = [];
  for (let i = 0; i < length; i += 8) {
    const bits = read.byte();
    for (let k = 0; k < 8; k++) if (bits & (1 << k)) known.push(i + k);
  }
  return { length, known };
}

function writeDoubles(
  write: Writer,
  column: Float64Array,
  known: readonly number[],
  mean?: (i: number) => number,
): void {
  const first = column[known[0] as number] as number;
  if (mean && known.every((i) => Object.is(column[i], mean(i)))) write.byte(LIKE_MEAN);
  else if (known.every((i) => Object.is(column[i], first))) {
    write.byte(CONSTANT);
    write.double(first ?? 0);
  } else {
    write.byte(PLAIN);
    for (const i of known) write.double(column[i] as number);
  }
}

function readDoubles(
  read: Reader,
  column: Float64Array,
  known: readonly number[],
  mean?: (i: number) => number,
): void {
  const mode = read.byte();
  if (mode === LIKE_MEAN && mean) for (const i of known) column[i] = mean(i);
  else if (mode === CONSTANT) {
    const value = read.double();
    for (const i of known) column[i] = value;
  } else if (mode === PLAIN) for (const i of known) column[i] = read.double();
  else throw new PageError(`no way ${mode} of keeping a column`);
}

function writeWholes(write: Writer, column: Uint32Array, known: readonly number[]): void {
  const first = column[known[0] as number] as number;
  const constant = known.every((i) => column[i] === first);
  write.byte(constant ? CONSTANT : PLAIN);
  if (constant) write.whole(first ?? 0);
  else for (const i of known) write.whole(column[i] as number);
}

function readWholes(read: Reader, column: Uint32Array, known: readonly number[]): void {
  if (read.byte() === CONSTANT) {
    const value = read.whole();
    for (const i of known) column[i] = value;
  } else for (const i of known) column[i] = read.whole();
}

/** What a counter has counted in slots: Wh (or the counter's own unit), and the milliseconds over which it is known. */
export interface Counts {
  start: number;
  step: number;
  length: number;
  increment: Float64Array;
  covered: Uint32Array;
}

/** Counts of nothing. */
export const emptyCounts = (start: number, step: number, length: number): Counts => ({
  start,
  step,
  length,
  increment: new Float64Array(length),
  covered: new Uint32Array(length),
});

/** Counts as bytes, as {@link encodePage}. */
export function encodeCounts(counts: Counts): Uint8Array {
  const all = Array.from({ length: counts.length }, (_, i) => i);
  const write = new Writer(4 + counts.length * 12 + 16);
  write.byte(counts.length & 0xff);
  write.byte(counts.length >> 8);
  writeDoubles(write, counts.increment, all);
  writeWholes(write, counts.covered, all);
  return write.done();
}

/** @throws PageError */
export function decodeCounts(start: number, step: number, bytes: Uint8Array): Counts {
  try {
    const read = new Reader(bytes);
    const length = read.byte() | (read.byte() << 8);
    const counts = emptyCounts(start, step, length);
    const all = Array.from({ length }, (_, i) => i);
    readDoubles(read, counts.increment, all);
    readWholes(read, counts.covered, all);
    return counts;
  } catch (error) {
    if (error instanceof RangeError) throw new PageError(`counts at ${start} are cut off`);
    throw error;
  }
}

/** Longer counts out of shorter ones. */
export function coarsenCounts(fine: Counts, step: number): Counts {
  const start = Math.floor(fine.start / step) * step;
  const end = Math.ceil((fine.start + fine.length * fine.step) / step) * step;
  const coarse = emptyCounts(start, step, Math.max(0, (end - start) / step));
  for (let i = 0; i < fine.length; i++) {
    const k = Math.floor((fine.start + i * fine.step - start) / step);
    coarse.increment[k] = (coarse.increment[k] as number) + (fine.increment[i] as number);
    coarse.covered[k] = (coarse.covered[k] as number) + (fine.covered[i] as number);
  }
  return coarse;
}
