import { encodeWords } from '../words.js';
import type { ByteOrder, RegisterKind, ValueType, WordOrder } from '../types.js';
import { findInRange, findInterpretations, WORDS_AFTER, WORDS_BEFORE, type Snapshots } from './find.js';
import type { Knowledge } from './knowledge.js';

/** A repeatable stream of numbers in 0…1 (mulberry32). */
function stream(seed: number): () => number {
  return () => {
    seed = (seed + 0x6d2b79f5) | 0;
    let t = Math.imul(seed ^ (seed >>> 15), 1 | seed);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

type Name = 'voltage' | 'current' | 'power' | 'factor' | 'frequency' | 'energy';
const ORDER: Name[] = ['voltage', 'current', 'power', 'factor', 'frequency', 'energy'];

interface Encoding {
  type: ValueType;
  factor: number;
}

/**
 * A plausible single-phase meter: its values one after the other, all in one style (floats, 16-bit or 32-bit
 * whole numbers with decimals), one word and byte order, holding or input registers, three reads a second apart.
 */
function randomMeter(random: () => number) {
  const pick = <T>(...list: T[]): T => list[Math.floor(random() * list.length)] as T;
  const style = pick('float32', 'float32', 'uint16', 'int16', 'uint32', 'int32', 'float64');
  const wordOrder = pick<WordOrder>('high-first', 'high-first', 'low-first');
  const byteOrder = pick<ByteOrder>(...Array.from({ length: 7 }, () => 'high-first' as const), 'low-first');
  const kind = pick<RegisterKind>('holding', 'input');
  const decimals = style.startsWith('float') ? 1 : 0;
  const factor: Record<Name, number> = {
    voltage: decimals || pick(0.1, 0.01),
    current: decimals || pick(0.01, 0.001),
    power: decimals || (style === 'uint16' || style === 'int16' ? 1 : pick(1, 0.1)),
    factor: decimals || pick(0.01, 0.001),
    frequency: decimals || pick(0.1, 0.01),
    energy: decimals ? 1000 : pick(10, 100),
  };
  const truth = {
    voltage: 218 + 24 * random(),
    current: 0.8 + 24 * random(),
    factor: 0.45 + 0.54 * random(),
    frequency: 49.95 + 0.1 * random(),
    energy: 2e5 + 4e5 * random(),
  };
  const layouts = ORDER.map((name): Encoding => {
    const wide = name === 'energy' && (style === 'uint16' || style === 'int16') ? 'uint32' : style;
    return { type: wide, factor: factor[name] };
  });
  const base = Math.floor(random() * 4000);
  const reads: number[][] = [];
  const addresses: number[] = [];
  const values: Record<Name, number>[] = [];
  for (let read = 0; read < 3; read++) {
    const wander = () => 1 + 0.002 * (random() - 0.5);
    const now = {
      ...truth,
      voltage: truth.voltage * wander(),
      current: truth.current * wander(),
      frequency: truth.frequency * (1 + 2e-4 * (random() - 0.5)),
      energy: truth.energy + read * (style.startsWith('float') ? 3 : 200),
    };
    const all: Record<Name, number> = { ...now, power: now.voltage * now.current * now.factor };
    const words: number[] = [Math.floor(random() * 100)]; // what lies before is something else
    addresses.length = 0;
    layouts.forEach(({ type, factor: f }, i) => {
      addresses.push(base + words.length - 1);
      words.push(...encodeWords(all[ORDER[i] as Name] / f, { type, wordOrder, byteOrder }));
    });
    words.push(...Array.from({ length: 8 }, () => Math.floor(random() * 65536)));
    reads.push(words);
    values.push(all);
  }
  return { kind, first: base - 1, reads, addresses, last: values[2] as Record<Name, number>, layouts };
}

function knowledgeOf(name: Name, truth: number, random: () => number): Knowledge {
  const off = 1 + 0.01 * (random() - 0.5); // the handheld is good to half a percent
  if (name === 'voltage') return { about: 'near-nominal', quantity: 'voltage', nominal: 230 };
  if (name === 'frequency') return { about: 'near-nominal', quantity: 'frequency', nominal: 50 };
  if (name === 'current')
    return { about: 'instrument', quantity: 'current', value: Number((truth * off).toPrecision(4)) };
  return { about: 'instrument', quantity: 'active-power', value: Number((truth * off).toPrecision(4)) };
}

it('finds the right reading of 1000 randomly encoded meters: first in 95 %, among the first three in 99 %', () => {
  const random = stream(20261125);
  let first = 0;
  let firstThree = 0;
  const COUNT = 1000;
  for (let i = 0; i < COUNT; i++) {
    const meter = randomMeter(random);
    const index = [0, 1, 2, 4][Math.floor(random() * 4)] as number;
    const name = ORDER[index] as Name;
    // One time in four the table counts from 1, so the typed address is one too high; one time in five the kind is wrong.
    const address = (meter.addresses[index] as number) + (random() < 0.25 ? 1 : 0);
    const askedKind: RegisterKind =
      random() < 0.2 ? (meter.kind === 'input' ? 'holding' : 'input') : meter.kind;
    const from = Math.max(0, address - WORDS_BEFORE - meter.first);
    const snapshots: Snapshots[] = [
      {
        kind: meter.kind,
        start: meter.first + from,
        reads: meter.reads.map((words) => words.slice(from, from + WORDS_BEFORE + WORDS_AFTER)),
      },
    ];
    const found = findInterpretations(
      { kind: askedKind, address },
      snapshots,
      knowledgeOf(name, meter.last[name], random),
    );
    const rank = found.findIndex(
      (one) => Math.abs(one.value / meter.last[name] - 1) < 0.001 + resolution(meter, index),
    );
    if (rank === 0) first++;
    if (rank >= 0 && rank < 3) firstThree++;
  }
  console.log(`interpretation finder: first ${first}, among the first three ${firstThree} of ${COUNT}`);
  expect(first / COUNT).toBeGreaterThanOrEqual(0.95);
  expect(firstThree / COUNT).toBeGreaterThanOrEqual(0.99);
});

/** A whole number with few digits cannot be closer to the truth than half a count. */
function resolution({ layouts, last }: ReturnType<typeof randomMeter>, index: number): number {
  const { type, factor } = layouts[index] as Encoding;
  return type.startsWith('float') ? 0 : (0.5 * factor) / last[ORDER[index] as Name];
}

describe('one by one', () => {
  const words = (value: number, type: ValueType, wordOrder: WordOrder = 'high-first') =>
    encodeWords(value, { type, wordOrder, byteOrder: 'high-first' });
  const at = (...list: number[][]): Snapshots[] => [
    { kind: 'holding', start: 99, reads: list.map((w) => [0, ...w, 0, 0, 0, 0, 0]) },
  ];

  it('word order by itself: 230.15 V with the low word first (0x2666 0x4366)', () => {
    const [best] = findInterpretations({ kind: 'holding', address: 100 }, at([0x2666, 0x4366]), {
      about: 'near-nominal',
      quantity: 'voltage',
      nominal: 230,
    });
    expect(best).toMatchObject({ type: 'float32', wordOrder: 'low-first', address: 100, factor: 1 });
    expect(best?.reasons).toContain('low word first');
    expect(best?.confidence).toBe('strong');
  });
  it('somewhere in a range: the three voltages are found at their places, and nothing beside the range', () => {
    const volts = [230.15, 231.4, 229.8].flatMap((v) => words(v, 'float32'));
    const snapshots: Snapshots[] = [
      { kind: 'input', start: 19, reads: [[7, ...words(50, 'float32'), 3, ...volts, 0, 0, 0, 0, 0, 0]] },
    ];
    const found = findInRange({ kind: 'holding', first: 20, last: 30 }, snapshots, {
      about: 'near-nominal',
      quantity: 'voltage',
      nominal: 230,
    });
    expect(
      found
        .slice(0, 3)
        .map((f) => [f.address, f.type])
        .sort(),
    ).toEqual([
      [23, 'float32'],
      [25, 'float32'],
      [27, 'float32'],
    ]);
    expect(
      findInRange({ kind: 'holding', first: 29, last: 30 }, snapshots, {
        about: 'near-nominal',
        quantity: 'voltage',
        nominal: 230,
      }),
    ).toEqual([]);
  });
  it('a table that counts from 1', () => {
    const [best] = findInterpretations(
      { kind: 'holding', address: 101 },
      [{ kind: 'holding', start: 100, reads: [[2312, 7, 0, 0, 0, 0]] }],
      { about: 'near-nominal', quantity: 'voltage', nominal: 230 },
    );
    expect(best).toMatchObject({ address: 100, type: 'uint16', factor: 0.1 });
    expect(best?.reasons).toContain('one address lower: the table counts from 1');
  });
  it('a float whose low word looks like a scaled voltage itself, asked for one too high, at every voltage', () => {
    let first = 0;
    const volts = Array.from({ length: 1500 }, (_, i) => 222 + i * 0.0107);
    for (const v of volts) {
      const reads = [v, v + 0.002, v + 0.004].map((u) => [7, ...words(u, 'float32'), 0, 0, 0, 0, 0]);
      const [best] = findInterpretations(
        { kind: 'holding', address: 101 },
        [{ kind: 'holding', start: 99, reads }],
        { about: 'near-nominal', quantity: 'voltage', nominal: 230 },
      );
      if (best?.type === 'float32' && best.address === 100) first++;
    }
    expect(first / volts.length).toBeGreaterThanOrEqual(0.99);
  });
  it('a current that the handheld reads as 3.42 A', () => {
    const [best] = findInterpretations(
      { kind: 'holding', address: 100 },
      at(words(3418, 'uint16'), words(3421, 'uint16')),
      { about: 'instrument', quantity: 'current', value: 3.42 },
    );
    expect(best?.value).toBeCloseTo(3.421, 9);
    expect(best).toMatchObject({ factor: 0.001 });
  });
  it('an energy counter that rises', () => {
    const [best] = findInterpretations(
      { kind: 'holding', address: 100 },
      at(words(4_821_130, 'uint32'), words(4_821_131, 'uint32')),
      { about: 'counter' },
    );
    expect(best).toMatchObject({ type: 'uint32' });
    expect(best?.reasons).toContain('rises, and never falls');
  });
  it('a power factor, of which only is known that it is one: thousandths', () => {
    const [best] = findInterpretations(
      { kind: 'holding', address: 100 },
      at(words(934, 'uint16'), words(931, 'uint16')),
      { about: 'power-factor' },
    );
    expect(best).toMatchObject({ type: 'uint16', factor: 0.001, address: 100 });
    expect(best?.value).toBeCloseTo(0.931, 9);
  });
  it('a power factor of a generator is negative, and found as well', () => {
    const [best] = findInterpretations({ kind: 'holding', address: 100 }, at(words(-0.97, 'float32')), {
      about: 'power-factor',
    });
    expect(best?.value).toBeCloseTo(-0.97, 5);
  });
  it('a counter that stands still is told with less certainty than one that rises', () => {
    const score = (...reads: number[]) =>
      findInterpretations(
        { kind: 'holding', address: 100 },
        at(...reads.map((counts) => words(counts, 'uint32'))),
        { about: 'counter' },
      ).find((f) => f.type === 'uint32')?.score ?? -Infinity;
    expect(score(4_821_130, 4_821_131)).toBeGreaterThan(score(4_821_131, 4_821_131) + 2);
    expect(score(4_821_131, 4_821_130)).toBe(-Infinity);
  });
  it('says that a few counts which happen to fit are weak', () => {
    const [best] = findInterpretations({ kind: 'holding', address: 100 }, at([60, 34], [60, 34]), {
      about: 'instrument',
      quantity: 'current',
      value: 0.34,
    });
    expect(best?.confidence).toBe('weak');
  });
  it('says nothing when nothing fits', () => {
    expect(
      findInterpretations({ kind: 'holding', address: 100 }, at([0, 0], [0, 0]), {
        about: 'near-nominal',
        quantity: 'voltage',
        nominal: 230,
      }),
    ).toEqual([]);
    expect(findInterpretations({ kind: 'holding', address: 100 }, [], { about: 'power-factor' })).toEqual([]);
  });
});
