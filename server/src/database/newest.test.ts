import fc from 'fast-check';
import { Newest } from './newest.js';

/** A reading that ends when the test says so. */
const reading = () => {
  let end!: (value: number) => void;
  let fail!: (error: Error) => void;
  const ended = new Promise<number>((resolve, reject) => {
    end = resolve;
    fail = reject;
  });
  return { read: () => ended, end, fail };
};

it('whatever the order in which readings end, what is taken up never grows older, and the last to begin stays', () =>
  fc.assert(
    fc.asyncProperty(
      fc.integer({ min: 1, max: 8 }).chain((n) =>
        fc.shuffledSubarray(
          Array.from({ length: n }, (_, i) => i),
          { minLength: n },
        ),
      ),
      async (order) => {
        const newest = new Newest();
        const taken: number[] = [];
        const readings = order.map(() => reading());
        const all = readings.map(({ read }) => newest.take(read, (value) => taken.push(value)));
        for (const i of order) {
          readings[i]?.end(i);
          await all[i];
          // Who has read finds at least what was there when the reading began.
          expect(taken.at(-1)).toBeGreaterThanOrEqual(i);
        }
        expect(taken).toEqual([...taken].sort((a, b) => a - b));
        expect(taken.at(-1)).toBe(order.length - 1);
      },
    ),
  ));
it('a failure is told to its caller and changes nothing; one that hangs holds up nobody', async () => {
  const newest = new Newest();
  const taken: number[] = [];
  const [hangs, fails, ends] = [reading(), reading(), reading()];
  const take = ({ read }: ReturnType<typeof reading>) => newest.take(read, (value) => taken.push(value));
  const first = take(hangs);
  const second = take(fails);
  const third = take(ends);
  fails.fail(new Error('the database is away'));
  await expect(second).rejects.toThrow('the database is away');
  ends.end(3);
  await third;
  expect(taken).toEqual([3]);
  hangs.end(1);
  await first;
  expect(taken).toEqual([3]);
});
