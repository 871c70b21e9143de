import { encodeWords } from '../words.js';
import type { ByteOrder, RegisterKind, ValueType, WordOrder } from '../types.js';
import {
  findInRange,
  findInterpretations,
  noValueAt,
  WORDS_AFTER,
  WORDS_BEFORE,
  type Snapshots,
} from './find.js';
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
  /** Value of the raw number 0. */
  low: number;
}

type Style = 'float32' | 'uint16' | 'int16' | 'uint32' | 'int32' | 'float64' | 'bcd16' | 'bcd32';

/**
 * A plausible single-phase meter: its values one after the other, all in one style (floats, 16-bit or 32-bit
 * whole numbers with decimals, decimal digits in half bytes; one in ten tells the frequency as a span), one word and
 * byte order, holding or input registers, four reads.
 */
function randomMeter(random: () => number) {
  const pick = <T>(...list: T[]): T => list[Math.floor(random() * list.length)] as T;
  const many = <T>(times: number, one: T): T[] => Array.from({ length: times }, () => one);
  const style = pick<Style>(
    ...many(6, 'float32' as const),
    ...many(3, 'uint16' as const),
    ...many(3, 'int16' as const),
    ...many(3, 'uint32' as const),
    ...many(3, 'int32' as const),
    'float64',
    'bcd16',
    'bcd32',
  );
  const wordOrder = pick<WordOrder>('high-first', 'high-first', 'low-first');
  const byteOrder = pick<ByteOrder>(...many(9, 'high-first' as const), 'low-first');
  const kind = pick<RegisterKind>('holding', 'input');
  const decimals = style.startsWith('float') ? 1 : 0;
  const short = style === 'uint16' || style === 'int16' || style === 'bcd16';
  const span = !decimals && short && random() < 0.1;
  const factor: Record<Name, number> = {
    voltage: decimals || (style === 'bcd16' ? 0.1 : pick(0.1, 0.01)),
    current: decimals || pick(0.01, 0.001),
    power: decimals || (short ? 1 : pick(1, 0.1)),
    factor: decimals || pick(0.01, 0.001),
    frequency: decimals || pick(0.1, 0.01),
    energy: decimals ? 1 : pick(1, 10, 100),
  };
  const truth = {
    voltage: 218 + 24 * random(),
    current: 0.8 + (style === 'bcd16' ? 8 : 24) * random(),
    factor: 0.45 + 0.54 * random(),
    frequency: 49.95 + 0.1 * random(),
    energy: 10 ** (4 + 4 * random()),
  };
  const layouts = ORDER.map((name): Encoding => {
    const wide = name === 'energy' && short ? (style === 'bcd16' ? 'bcd32' : 'uint32') : style;
    if (name === 'frequency' && span) return { type: 'uint16', factor: 20 / 10_000, low: 45 };
    return { type: wide, factor: factor[name], low: 0 };
  });
  const base = Math.floor(random() * 4000);
  const reads: number[][] = [];
  const addresses: number[] = [];
  const values: Record<Name, number>[] = [];
  // A meter of one load tells the same for a while where nothing changes.
  const still = random() < 0.15;
  for (let read = 0; read < 4; read++) {
    const wander = () => (still ? 1 : 1 + 0.002 * (random() - 0.5));
    const now = {
      voltage: truth.voltage * wander(),
      current: truth.current * wander(),
      factor: truth.factor * (still ? 1 : 1 + 0.001 * (random() - 0.5)),
      frequency: truth.frequency * (still ? 1 : 1 + 2e-4 * (random() - 0.5)),
      // For a counter one waits until it has counted; a meter counts in steps that its float can tell.
      energy: truth.energy + read * Math.max(3 * factor.energy, truth.energy * 1e-6),
    };
    const all: Record<Name, number> = { ...now, power: now.voltage * now.current * now.factor };
    const words: number[] = [Math.floor(random() * 100)]; // what lies before is something else
    addresses.length = 0;
    layouts.forEach(({ type, factor: f, low }, i) => {
      addresses.push(base + words.length - 1);
      words.push(...encodeWords((all[ORDER[i] as Name] - low) / f, { type, wordOrder, byteOrder }));
    });
    words.push(...Array.from({ length: 8 }, () => Math.floor(random() * 65536)));
    reads.push(words);
    values.push(all);
  }
  return { kind, first: base - 1, reads, addresses, last: values[3] as Record<Name, number>, layouts };
}

function knowledgeOf(name: Name, truth: number, random: () => number): Knowledge {
  const off = 1 + 0.01 * (random() - 0.5); // the handheld is good to half a percent
  if (name === 'voltage') return { about: 'near-nominal', quantity: 'voltage', nominal: 230 };
  if (name === 'frequency') return { about: 'near-nominal', quantity: 'frequency', nominal: 50 };
  if (name === 'factor') return { about: 'power-factor' };
  if (name === 'energy') return { about: 'counter' };
  return {
    about: 'instrument',
    quantity: name === 'current' ? 'current' : 'active-power',
    value: Number((truth * off).toPrecision(4)),
  };
}

/** What the finder is shown of registers around an address. */
const around = (kind: RegisterKind, first: number, reads: number[][], address: number): Snapshots[] => {
  const from = Math.max(0, address - WORDS_BEFORE - first);
  return [
    {
      kind,
      start: first + from,
      reads: reads.map((words) => words.slice(from, from + WORDS_BEFORE + WORDS_AFTER)),
    },
  ];
};

/** Asks for each value of many meters in turn. @returns by value: how often it came first, and among the first three */
function figures(seed: number, count: number, names: readonly Name[]) {
  const random = stream(seed);
  const got = names.map((name) => ({ name, asked: 0, first: 0, three: 0, strongAndWrong: 0, weak: 0 }));
  for (let i = 0; i < count; i++) {
    const meter = randomMeter(random);
    const tally = got[i % got.length] as (typeof got)[0];
    const index = ORDER.indexOf(tally.name);
    // One time in four the table counts from 1, so the typed address is one too high; one time in five the kind is wrong.
    const address = (meter.addresses[index] as number) + (random() < 0.25 ? 1 : 0);
    const askedKind: RegisterKind =
      random() < 0.2 ? (meter.kind === 'input' ? 'holding' : 'input') : meter.kind;
    const truth = meter.last[tally.name];
    const found = findInterpretations(
      { kind: askedKind, address },
      around(meter.kind, meter.first, meter.reads, address),
      knowledgeOf(tally.name, truth, random),
    );
    // What a counter counts in is open: right is the number that lies there.
    const { factor } = meter.layouts[index] as Encoding;
    const sought = tally.name === 'energy' ? truth / factor : truth;
    const slack = tally.name === 'energy' ? 1 / sought : resolution(meter, index);
    const isRight = (one: { value: number }) => Math.abs(one.value / sought - 1) < 0.001 + slack;
    const rank = found.findIndex(isRight);
    tally.asked++;
    if (rank === 0) tally.first++;
    if (rank >= 0 && rank < 3) tally.three++;
    if (found[0]?.confidence === 'strong' && rank !== 0) tally.strongAndWrong++;
    if (found.every((one) => one.confidence === 'weak')) tally.weak++;
  }
  return got;
}

it('finds the right reading of 1800 randomly encoded meters: first in 95 %, among the first three in 99 %', () => {
  const got = figures(20261125, 1800, ORDER);
  for (const { name, asked, first, three, strongAndWrong, weak } of got)
    console.log(
      `finder, ${name}: first ${first}, three ${three}, strong and wrong ${strongAndWrong}, weak ${weak} of ${asked}`,
    );
  const all = got.reduce((sum, g) => sum + g.asked, 0);
  expect(got.reduce((sum, g) => sum + g.first, 0) / all).toBeGreaterThanOrEqual(0.95);
  expect(got.reduce((sum, g) => sum + g.three, 0) / all).toBeGreaterThanOrEqual(0.99);
  // What is called strong is right.
  expect(got.reduce((sum, g) => sum + g.strongAndWrong, 0) / all).toBeLessThan(0.01);
});

it('says that nothing fits where nothing of the kind is there, in 95 %', () => {
  const random = stream(7);
  let [claimed, asked] = [0, 0];
  for (let i = 0; i < 1200; i++) {
    // Registers of another device: settings, empty ones, serial numbers, some that jump, some that wander.
    const steady = Array.from({ length: 8 }, () =>
      random() < 0.3 ? 0 : random() < 0.3 ? Math.floor(random() * 300) : Math.floor(random() * 65_536),
    );
    const moves = steady.map(() => (random() < 0.6 ? 'still' : random() < 0.5 ? 'jumps' : 'wanders'));
    const reads = Array.from({ length: 4 }, () =>
      steady.map((word, k) => {
        if (moves[k] === 'jumps') return Math.floor(random() * 65_536);
        return moves[k] === 'wanders' ? Math.round(word * (1 + 0.002 * (random() - 0.5))) & 0xffff : word;
      }),
    );
    const name = ORDER[i % ORDER.length] as Name;
    const value = { current: 0.8 + 24 * random(), power: 100 + 5000 * random() }[name as 'current' | 'power'];
    const found = findInterpretations(
      { kind: 'holding', address: 101 },
      [{ kind: 'holding', start: 100, reads }],
      knowledgeOf(name, value ?? 1, random),
    );
    asked++;
    if (found.some((one) => one.confidence !== 'weak')) claimed++;
  }
  console.log(`finder: something claimed where nothing is, ${claimed} of ${asked}`);
  expect(claimed / asked).toBeLessThanOrEqual(0.05);
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
    const volts = Array.from({ length: 400 }, (_, i) => 222 + i * 0.0401);
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
    expect(best?.reasons).toContain('rises by 1, and never falls');
    expect(best?.reasons).toContain('its unit is open: hold it against the display of the meter');
    expect(best?.factor).toBe(1);
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
      ).find((f) => f.type === 'uint32' && f.address === 100 && f.wordOrder === 'high-first')?.score ??
      -Infinity;
    expect(score(4_821_130, 4_821_131, 4_821_132, 4_821_133)).toBeGreaterThan(
      score(4_821_131, 4_821_131, 4_821_131, 4_821_131) + 2,
    );
    expect(score(4_821_131, 4_821_130)).toBe(-Infinity);
  });
  it('digits in half bytes (BCD): 0x2304 is 230.4 V, and 0x8964 as a whole number is not', () => {
    const [best] = findInterpretations({ kind: 'holding', address: 100 }, at([0x2304], [0x2306], [0x2305]), {
      about: 'near-nominal',
      quantity: 'voltage',
      nominal: 230,
    });
    expect(best).toMatchObject({ type: 'bcd16', factor: 0.1 });
    expect(best?.value).toBeCloseTo(230.5, 9);
  });
  it('a frequency as a span: 2500 of 10 000 from 45 to 65 Hz is 50 Hz (trade)', () => {
    const [best] = findInterpretations({ kind: 'holding', address: 100 }, at([2500], [2503], [2501]), {
      about: 'near-nominal',
      quantity: 'frequency',
      nominal: 50,
    });
    expect(best?.span).toMatchObject({ low: 45, high: 65 });
    expect(best?.value).toBeCloseTo(50, 1);
    expect(best?.reasons.join()).toMatch(/0–(9999|10000) stand for 45 to 65/);
    // 9999 and 10 000 counts cannot be told apart by it.
    expect(best).toMatchObject({ confidence: 'fair', rivals: 1 });
  });
  it('where two readings explain the words equally well it says so, and calls none strong', () => {
    // 231.0 V one address lower, as in a table that counts from 1, or 231.2 V at the address that was typed.
    const found = findInterpretations(
      { kind: 'holding', address: 100 },
      [{ kind: 'holding', start: 99, reads: [[2310, 2312, 0, 0, 0, 0, 0]] }],
      { about: 'instrument', quantity: 'voltage', value: 231.1 },
    );
    const [one, other] = found;
    expect([one?.value, other?.value].sort()).toEqual([231, expect.closeTo(231.2, 9)]);
    expect(one?.rivals).toBeGreaterThan(0);
    expect(found.map((f) => f.confidence)).not.toContain('strong');
  });
  it('a code for “not available” is no value, and is said', () => {
    const none = at([0x8000, 0x0000], [0x8000, 0x0000]);
    expect(noValueAt(100, none)).toBe('0x80000000');
    expect(noValueAt(100, at([0xffff, 12], [0xffff, 12]))).toBe('0xFFFF');
    expect(noValueAt(100, at([0x0000, 0x7fc0], [0x0000, 0x7fc0]))).toBe('0x7FC00000');
    expect(noValueAt(100, at([2304, 0], [2304, 0]))).toBeNull();
    expect(noValueAt(100, at([0xffff, 12], [0xfffe, 12]))).toBeNull();
    expect(
      findInterpretations({ kind: 'holding', address: 100 }, at([0xffff, 0xffff], [0xffff, 0xffff]), {
        about: 'instrument',
        quantity: 'active-power',
        value: 65_535,
      }).filter((f) => f.address === 100),
    ).toEqual([]);
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
