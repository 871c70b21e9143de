import { EventWriter } from './eventWriter.js';

const away = () => Object.assign(new Error('away'), { code: 'ECONNREFUSED' });

it('writes in order, and goes on trying while the database is away', async () => {
  const writer = new EventWriter();
  const written: string[] = [];
  let up = false;
  for (const what of ['a', 'b', 'c'])
    writer.write(what, async () => {
      if (!up) throw away();
      written.push(what);
    });
  await writer.idle(); // comes back although nothing could be written
  expect(written).toEqual([]);
  up = true;
  for (let i = 0; i < 400 && written.length < 3; i++) await new Promise((resolve) => setTimeout(resolve, 10));
  expect(written).toEqual(['a', 'b', 'c']);
  await writer.onModuleDestroy();
});

it('an event that can never be written does not hold up the others', async () => {
  const writer = new EventWriter();
  const written: string[] = [];
  jestSilent(writer);
  writer.write('broken', async () => {
    throw new Error('no such column');
  });
  writer.write('next', async () => written.push('next'));
  await writer.idle();
  expect(written).toEqual(['next']);
});

/** The log is meant for the operator, not for the test's output. */
function jestSilent(writer: EventWriter): void {
  (writer as unknown as { log: { error(): void } }).log = { error: () => undefined };
}
