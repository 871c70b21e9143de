import { judgeOutput, type OutputPlace } from './outputs.js';

// A relay that is open from 10 s to 22 s; readings each second.
const MARKS = [
  { t: 0, on: true },
  { t: 10_000, on: false },
  { t: 22_000, on: true },
];
const END = 34_000;
const place = (
  id: number,
  name: string,
  above: number[],
  watts: (closed: boolean, s: number) => number,
): OutputPlace => ({
  id,
  name,
  above,
  power: {
    t: Array.from({ length: 34 }, (_, s) => s * 1000),
    v: Array.from({ length: 34 }, (_, s) => watts(!(s >= 10 && s < 22), s) + Math.sin(s * 7)),
  },
});
const supply = place(1, 'Supply', [], (closed) => 5000 + (closed ? 3000 : 0));
const cylinder = place(2, 'Hot-water cylinder', [1], (closed) => (closed ? 3000 : 0));
const lamps = place(3, 'Lamps', [1], () => 480);
const mixer = place(4, 'Mixer', [1], (_, s) => (s > 15 ? 1100 : 0));
const judge = (expected: OutputPlace, ...places: OutputPlace[]) => judgeOutput(expected, places, MARKS, END);

it('passes when its own circuit moves, and not only what feeds it', () => {
  const found = judge(cylinder, supply, cylinder, lamps, mixer);
  expect(found).toMatchObject({ verdict: 'pass', movedId: 2 });
  expect(found.watts).toBeCloseTo(3000, -1);
});
it('names the other circuit that it switches', () =>
  expect(judge(lamps, supply, cylinder, lamps, mixer)).toMatchObject({
    verdict: 'fail',
    movedId: 2,
    says: expect.stringContaining('It switches Hot-water cylinder, 3.00 kW, and not Lamps.'),
  }));
it('cannot tell when nothing moves, and takes no load that comes by itself for the relay’s', () =>
  expect(judge(lamps, lamps, mixer).verdict).toBe('cannot-tell'));
it('is content with what feeds it where nothing measures the circuit itself', () => {
  const fan = { id: 9, name: 'Fan', above: [1] };
  expect(judgeOutput(fan, [supply, lamps], MARKS, END)).toMatchObject({ verdict: 'pass', movedId: 1 });
  // Not with what feeds something else.
  expect(judgeOutput({ ...fan, above: [7] }, [supply, lamps], MARKS, END).verdict).toBe('fail');
});
it('a load that rises when the relay opens is not switched by it', () =>
  expect(
    judge(
      lamps,
      place(5, 'Other way', [], (closed) => (closed ? 0 : 2000)),
    ).verdict,
  ).toBe('cannot-tell'));
