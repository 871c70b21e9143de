import { walkSunspec } from './sunspecWalk.js';

// Chains of models made by hand after the SunSpec Alliance's open specification of the device information model
// (recalled): a marker "SunS" at 40000, 50000 or 0, then blocks of id, length and content, and 0xFFFF at the end.
class Refused extends Error {}
const isRefusal = (error: unknown) => error instanceof Refused;

/** A device with registers at some addresses; it refuses what it does not have. */
function device(registers: Map<number, number>, most = 125) {
  const asked: number[] = [];
  const read = async ({ start, count }: { start: number; count: number }) => {
    asked.push(start);
    if (count > most) throw new Refused(`${count} at once`);
    return Array.from({ length: count }, (_, i) => {
      const word = registers.get(start + i);
      if (word === undefined) throw new Refused(`no ${start + i}`);
      return word;
    });
  };
  return { read, asked };
}
const text = (words: string, length: number): number[] =>
  Array.from(
    { length },
    (_, i) => ((words.charCodeAt(2 * i) || 0) << 8) | (words.charCodeAt(2 * i + 1) || 0),
  );
const common = [
  ...text('Maker', 16),
  ...text('M-3', 16),
  ...text('', 8),
  ...text('1.0', 8),
  ...text('S-9', 16),
  1,
  0,
];
const single = () => {
  const words = new Array<number>(105).fill(0x8000);
  words.splice(0, 5, 500, 500, 0x8000, 0x8000, 0xfffe); // 5.00 A on L1
  words.splice(5, 9, 2300, 2300, 0x8000, 0x8000, 0x8000, 0x8000, 0x8000, 0x8000, 0xffff);
  return words;
};
const at = (base: number, blocks: [number, number[]][], end: number[] = [0xffff, 0]) => {
  const words = [
    0x5375,
    0x6e53,
    ...blocks.flatMap(([id, content]) => [id, content.length, ...content]),
    ...end,
  ];
  return new Map(words.map((word, i) => [base + i, word]));
};

it.each([40000, 50000, 0])('finds its marker at %i, and what the device says of itself', async (base) => {
  const { read } = device(
    at(base, [
      [1, common],
      [201, single()],
    ]),
  );
  const found = await walkSunspec(read, isRefusal);
  expect(found).toMatchObject({ maker: 'Maker', model: 'M-3', version: '1.0', serial: 'S-9' });
  expect(found?.meter).toMatchObject({ model: 201, words: expect.stringContaining('single') });
  const current = found?.meter?.points.find((p) => p.key === 'current');
  // Where the value lies is said as an address on the wire: marker, two headers and the common model lie before it.
  expect(current).toMatchObject({ address: String(base + 2 + 2 + 66 + 2), kind: 'holding' });
});
it('models that it does not know are passed by their length', async () => {
  const { read } = device(
    at(40000, [
      [1, common],
      [64110, new Array<number>(200).fill(7)],
      [201, single()],
    ]),
  );
  expect((await walkSunspec(read, isRefusal))?.meter?.model).toBe(201);
});
it('a device without an end marker refuses what lies behind its last model, and that is the end', async () => {
  const { read } = device(
    at(
      40000,
      [
        [1, common],
        [201, single()],
      ],
      [],
    ),
  );
  expect((await walkSunspec(read, isRefusal))?.meter?.model).toBe(201);
});
it('one that is no meter says who it is, and has no meter', async () => {
  const { read } = device(
    at(40000, [
      [1, common],
      [103, new Array<number>(50).fill(0)],
    ]),
  );
  expect(await walkSunspec(read, isRefusal)).toMatchObject({ maker: 'Maker', meter: null });
});
it('a device that does not speak it is asked at three places, and no more', async () => {
  const { read, asked } = device(
    new Map([
      [0, 1],
      [1, 2],
    ]),
  );
  expect(await walkSunspec(read, isRefusal)).toBeNull();
  expect(asked).toEqual([40000, 50000, 0]);
});
it('a chain that never ends is given up, and a length of nothing ends it', async () => {
  const endless = new Map<number, number>([
    [40000, 0x5375],
    [40001, 0x6e53],
  ]);
  for (let i = 0; i < 3000; i += 3) [64000, 1, 0].forEach((word, j) => endless.set(40002 + i + j, word));
  const { read, asked } = device(endless);
  expect(await walkSunspec(read, isRefusal)).toMatchObject({ maker: '', meter: null });
  expect(asked.length).toBeLessThan(60);
  const nothing = at(40000, [], [1, 0, 1, 0]);
  expect(await walkSunspec(device(nothing).read, isRefusal)).toMatchObject({ meter: null });
});
it('silence is no refusal: it is thrown on, so that nobody takes it for “does not speak it”', async () => {
  const read = async () => {
    throw new Error('no answer');
  };
  await expect(walkSunspec(read, isRefusal)).rejects.toThrow('no answer');
});
