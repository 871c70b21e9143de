import 'reflect-metadata';
import { newPoint, valueOf } from '@loka/core/registers';
import { NestFactory } from '@nestjs/core';
import { DataSource } from 'typeorm';
import { AppModule } from '@loka/server/app.module';
import { LineBook } from '@loka/server/series/lineBook';
import { readConfig } from '@loka/server/config';
import { LiveReadings } from '@loka/server/live/liveReadings';
import { SampleStore, type StoredSample } from '@loka/server/series/sampleStore';

// Samples a second through decode, correct, publish and store, as a ratio to bare multi-row inserts of the same rows
// in the same run and database. Alternates the two, so that a slow moment of the machine meets both. The readings are of
// a time to come, whose minutes are not over, so that the store alone is measured, with its marks; then of one that is
// past, so that every minute is rolled up beside, sixty times as fast as in use.
const POINTS = 200;
const ROUNDS = 9;
const ROWS = 100_000;
const TO_COME = Date.now() + 86_400_000;
const PAST = 1_700_000_000_000;
const DEFINITION = newPoint({
  key: 'v',
  kind: 'input',
  type: 'float32',
  unit: 'V',
  quantity: 'voltage',
  phase: 'L1',
});

const app = await NestFactory.createApplicationContext(
  AppModule.with({ ...readConfig(process.env), acquire: false }),
  { logger: ['error'], abortOnError: false },
);
const db = app.get(DataSource);
const store = app.get(SampleStore);
const corrections = app.get(LineBook);
const live = app.get(LiveReadings);
await db.query(
  'CREATE TABLE bare (pointId INT UNSIGNED NOT NULL, t BIGINT NOT NULL, v DOUBLE NULL, q TINYINT UNSIGNED NOT NULL, PRIMARY KEY (pointId, t)) ENGINE=InnoDB',
);

/** One poll of all points after the other: words as they would come over the wire. */
function* polls(begin: number, round: number): Generator<{ t: number; words: number[][] }> {
  for (let i = 0; i < ROWS / POINTS; i++)
    yield {
      t: begin + (round * ROWS + i) * 1000,
      words: Array.from({ length: POINTS }, (_, p) => [0x4366, (0x2666 + p + i) & 0xffff]),
    };
}

async function through(begin: number, round: number): Promise<void> {
  let storing = Promise.resolve();
  for (const { t, words } of polls(begin, round)) {
    const readings = words.map((w, p) => {
      const raw = valueOf(DEFINITION, w);
      return { pointId: p + 1, t, raw, v: corrections.correct(p + 1, t, raw, () => null), q: 0, at: t };
    });
    store.append(readings.map(({ pointId, raw, q }) => ({ pointId, t, v: raw, q })));
    live.publish(readings);
    if (store.status().waiting < 2000) continue;
    // As in use: what is being stored is not waited for while the next readings come in; one batch at a time.
    await storing;
    storing = store.flush();
  }
  await storing;
  await store.flush();
}

async function bare(rows: StoredSample[]): Promise<void> {
  for (let i = 0; i < rows.length; i += 2000)
    await db.query('INSERT INTO bare (pointId, t, v, q) VALUES ?', [
      rows.slice(i, i + 2000).map((s) => [s.pointId, s.t, s.v, s.q]),
    ]);
}

const timed = async (work: () => Promise<void>): Promise<number> => {
  const began = performance.now();
  await work();
  return ROWS / ((performance.now() - began) / 1000);
};
const median = (values: number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1] as number;

const rates = {
  through: [] as number[],
  bare: [] as number[],
  rolled: [] as number[],
  other: [] as number[],
};
const rowsOf = (begin: number, round: number) =>
  [...polls(begin, round)].flatMap(({ t, words }) =>
    words.map((w, p) => ({ pointId: p + 1, t, v: valueOf(DEFINITION, w), q: 0 })),
  );
for (let round = 0; round < ROUNDS; round++) {
  rates.bare.push(await timed(() => bare(rowsOf(TO_COME, round))));
  rates.through.push(await timed(() => through(TO_COME, round)));
}
for (let round = 0; round < ROUNDS; round++) {
  rates.other.push(await timed(() => bare(rowsOf(PAST, round))));
  rates.rolled.push(await timed(() => through(PAST, round)));
}
(globalThis as { gc?: () => void }).gc?.();
const { rss, heapUsed } = process.memoryUsage();
const [{ n }] = await db.query('SELECT COUNT(*) AS n FROM samples');
console.log(`rows stored                      ${Number(n)}`);
console.log(`through decode, correct, store   ${Math.round(median(rates.through))} samples/s`);
console.log(`bare multi-row inserts           ${Math.round(median(rates.bare))} rows/s`);
console.log(
  `ratio (median of ${ROUNDS})              ${(median(rates.through) / median(rates.bare)).toFixed(2)}`,
);
console.log(
  `the same while all of it is rolled up    ${(median(rates.rolled) / median(rates.other)).toFixed(2)}`,
);
console.log(
  `memory afterwards                ${Math.round(rss / 1e6)} MB resident, ${Math.round(heapUsed / 1e6)} MB heap`,
);
await app.close();
