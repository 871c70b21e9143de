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
  const slots = emptySlots(start, step, lengthOf(flow));
  decodePageInto(slots, start, flow, shape);
  return slots;
}

/**
 * Puts the slots of a page that begins at `start` in the place of those of `into` at the same time, as far as they lie in
 * it. A year of pages is read this way without a page being made of each.
 * @throws PageError
 */
export function decodePageInto(into: Slots, start: number, flow: Uint8Array, shape: Uint8Array | null): void {
  try {
    const read = new Reader(flow);
    const offset = Math.round((start - into.start) / into.step);
    const at = placesOf(read, offset, into.length);
    for (let i = 0; i < at.covering.length; i++) clearSlot(into, at.covering[i] as number);
    readDoubles(read, into.plus, at);
    readDoubles(read, into.minus, at);
    readWholes(read, into.covered, at);
    if (shape === null) return;
    const more = new Reader(shape);
    for (const column of [into.min, into.max, into.last]) readDoubles(more, column, at, into);
    readWholes(more, into.count, at);
  } catch (error) {
    if (error instanceof RangeError)
      throw new PageError(`page at ${start} is cut off: ${flow.length} and ${shape?.length} bytes`);
    throw error;
  }
}

const lengthOf = (page: Uint8Array): number => (page[0] ?? 0) | ((page[1] ?? 0) << 8);

function clearSlot(slots: Slots, i: number): void {
  slots.plus[i] = 0;
  slots.minus[i] = 0;
  slots.covered[i] = 0;
  slots.min[i] = Infinity;
  slots.max[i] = -Infinity;
  slots.last[i] = NaN;
  slots.count[i] = 0;
}

const NOTHING = new Int32Array(0);

/** Where what is read goes. */
interface Places {
  /** Index of each known slot, −1 for one that lies outside; null when they are `count` in a row from `first` on. */
  known: Int32Array | null;
  first: number;
  count: number;
  /** Indices of all slots of the page that lie inside. */
  covering: Int32Array;
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

function placesOf(read: Reader, offset: number, length: number): Places {
  const own = read.byte() | (read.byte() << 8);
  const bits = new Uint8Array(Math.ceil(own / 8));
  let all = offset >= 0 && offset + own <= length;
  for (let i = 0; i < bits.length; i++) {
    bits[i] = read.byte();
    all &&= bits[i] === (i < own >> 3 ? 0xff : (1 << (own % 8)) - 1);
  }
  // The usual page: all of it is known, and all of it is wanted.
  if (all) return { known: null, first: offset, count: own, covering: NOTHING };
  const known = new Int32Array(own);
  let count = 0;
  for (let i = 0; i < own; i++) {
    if (!((bits[i >> 3] as number) & (1 << (i & 7)))) continue;
    const at = offset + i;
    known[count++] = at >= 0 && at < length ? at : -1;
  }
  const first = Math.max(0, offset);
  const covering = new Int32Array(Math.max(0, Math.min(length, offset + own) - first));
  for (let i = 0; i < covering.length; i++) covering[i] = first + i;
  return { known, first, count, covering };
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

function readDoubles(read: Reader, column: Float64Array, places: Places, mean?: Slots): void {
  const { known, first, count } = places;
  const mode = read.byte();
  if (mode === LIKE_MEAN && mean) {
    for (let i = 0; i < count; i++) {
      const at = known ? (known[i] as number) : first + i;
      if (at >= 0) column[at] = (mean.plus[at] as number) - (mean.minus[at] as number);
    }
  } else if (mode === CONSTANT) {
    const value = read.double();
    if (!known) column.fill(value, first, first + count);
    else for (let i = 0; i < count; i++) if ((known[i] as number) >= 0) column[known[i] as number] = value;
  } else if (mode === PLAIN) {
    if (!known) for (let i = 0; i < count; i++) column[first + i] = read.double();
    else
      for (let i = 0; i < count; i++) {
        const value = read.double();
        if ((known[i] as number) >= 0) column[known[i] as number] = value;
      }
  } else throw new PageError(`no way ${mode} of keeping a column`);
}

function writeWholes(write: Writer, column: Uint32Array, known: readonly number[]): void {
  const first = column[known[0] as number] as number;
  const constant = known.every((i) => column[i] === first);
  write.byte(constant ? CONSTANT : PLAIN);
  if (constant) write.whole(first ?? 0);
  else for (const i of known) write.whole(column[i] as number);
}

function readWholes(read: Reader, column: Uint32Array, { known, first, count }: Places): void {
  const constant = read.byte() === CONSTANT;
  let value = constant ? read.whole() : 0;
  if (constant && !known) {
    column.fill(value, first, first + count);
    return;
  }
  for (let i = 0; i < count; i++) {
    if (!constant) value = read.whole();
    const at = known ? (known[i] as number) : first + i;
    if (at >= 0) column[at] = value;
  }
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
  const counts = emptyCounts(start, step, lengthOf(bytes));
  decodeCountsInto(counts, start, bytes);
  return counts;
}

/** As {@link decodePageInto}. @throws PageError */
export function decodeCountsInto(into: Counts, start: number, bytes: Uint8Array): void {
  try {
    const read = new Reader(bytes);
    const own = read.byte() | (read.byte() << 8);
    const offset = Math.round((start - into.start) / into.step);
    const inside = offset >= 0 && offset + own <= into.length;
    const known = inside ? null : new Int32Array(own);
    for (let i = 0; known && i < own; i++) {
      const place = offset + i;
      known[i] = place >= 0 && place < into.length ? place : -1;
    }
    const at = { known, first: offset, count: own, covering: NOTHING };
    readDoubles(read, into.increment, at);
    readWholes(read, into.covered, at);
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
