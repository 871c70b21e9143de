import type { HealthReport } from '@loka/contract/health';
import { mattersOf } from './matters.js';

const NOW = Date.UTC(2026, 10, 26);
const well: Omit<HealthReport, 'state' | 'matters'> = {
  version: '1',
  startedAt: 0,
  database: { up: true, message: null },
  links: [],
  samples: { perSecond: 1, stored: 1, repeated: 0, moved: 0, waiting: 0, unkept: null },
  spool: { samples: 0, bytes: 0, lost: 0 },
  refused: { rows: 0, lastReason: null },
  events: { waiting: 0, notOnDisk: 0 },
  disk: { freeBytes: 5e9, totalBytes: 1e10 },
  clock: { lastJump: null },
  loopDelay: { median: 1, p99: 3, max: 40 },
};

it('all is well', () => expect(mattersOf(well, NOW)).toEqual({ state: 'up', matters: [] }));

it.each([
  [{ database: { up: false, message: 'no answer' } }, 'down', 'The database cannot be reached: no answer'],
  [{ spool: { samples: 7, bytes: 1, lost: 0 } }, 'impaired', '7 readings wait on disk for the database.'],
  [
    { samples: { ...well.samples, waiting: 9, unkept: 'ENOSPC' } },
    'impaired',
    '9 readings are in memory only: neither the database nor the disk takes them (ENOSPC).',
  ],
  [{ spool: { samples: 0, bytes: 1, lost: 3 } }, 'impaired', '3 readings could not be kept.'],
  [
    { refused: { rows: 2, lastReason: 'too long' } },
    'impaired',
    '2 rows were refused by the database: too long',
  ],
  [
    { events: { waiting: 1, notOnDisk: 1 } },
    'impaired',
    '1 events are in memory only: the disk did not take them.',
  ],
  [{ disk: null }, 'impaired', 'How much room is left on the disk is not known.'],
  [
    { disk: { freeBytes: 10 * 1024 ** 2, totalBytes: 1e10 } },
    'impaired',
    'The disk is nearly full: 10 MB are free.',
  ],
  [
    { clock: { lastJump: { at: NOW - 3_600_000, by: -3_600_000 } } },
    'impaired',
    'The clock of this machine was set back by 60 min.',
  ],
  [
    { loopDelay: { median: 100, p99: 800, max: 2000 } },
    'impaired',
    'The server is busy: it comes up to 2000 ms late.',
  ],
] as [Partial<HealthReport>, string, string][])('%j', (over, state, words) =>
  expect(mattersOf({ ...well, ...over }, NOW)).toMatchObject({ state, matters: [{ words }] }),
);

it('a step of the clock is told for a day', () =>
  expect(mattersOf({ ...well, clock: { lastJump: { at: NOW - 25 * 3_600_000, by: 9000 } } }, NOW).state).toBe(
    'up',
  ));
