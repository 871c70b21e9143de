import { Turns } from './turns.js';

/** Work that ends when the test says so. */
const work = () => {
  let end!: (value: string) => void;
  let fail!: (error: Error) => void;
  let begun = false;
  const ended = new Promise<string>((resolve, reject) => {
    end = resolve;
    fail = reject;
  });
  const run = () => {
    begun = true;
    return ended;
  };
  return { run, end, fail, begun: () => begun };
};
const settled = () => new Promise((resolve) => setImmediate(resolve));

it('what was asked for first ends first, and only then the next begins', async () => {
  const turns = new Turns();
  const [a, b] = [work(), work()];
  const order: string[] = [];
  const both = [a, b].map((w) => turns.take(w.run).then((name) => order.push(name)));
  b.end('b'); // would be done at once
  await settled();
  expect([a.begun(), b.begun(), order]).toEqual([true, false, []]);
  a.end('a');
  await Promise.all(both);
  expect(order).toEqual(['a', 'b']);
});
it('a failure is told to its caller, and holds nobody up', async () => {
  const turns = new Turns();
  const [a, b] = [work(), work()];
  const first = turns.take(a.run);
  const second = turns.take(b.run);
  a.fail(new Error('the database is away'));
  await expect(first).rejects.toThrow('the database is away');
  b.end('b');
  expect(await second).toBe('b');
});
