import type { HealthMatter, HealthReport, HealthState } from '@loka/contract/health';
import { printAge } from '@loka/core/formats';

/** Less free than this is soon none. */
const LITTLE = 500 * 1024 ** 2;
/** A step of the clock is told for so long, ms. */
const TOLD = 24 * 3_600_000;
/** Late by this much, ms, a cut-off comes late too. */
const LATE = 500;

/** What of a report is the matter, in words, and what that comes to. */
export function mattersOf(
  {
    database,
    samples,
    spool,
    refused,
    events,
    disk,
    clock,
    loopDelay,
  }: Omit<HealthReport, 'state' | 'matters'>,
  now: number,
): { state: HealthState; matters: HealthMatter[] } {
  const matters: HealthMatter[] = [];
  const say = (kind: HealthMatter['kind'], is: boolean, words: () => string) =>
    void (is && matters.push({ kind, words: words() }));
  say('database', !database.up, () => `The database cannot be reached: ${database.message}`);
  say('spool', spool.samples > 0, () => `${spool.samples} readings wait on disk for the database.`);
  say(
    'memory',
    samples.unkept !== null,
    () =>
      `${samples.waiting} readings are in memory only: neither the database nor the disk takes them (${samples.unkept}).`,
  );
  say('lost', spool.lost > 0, () => `${spool.lost} readings could not be kept.`);
  say(
    'refused',
    refused.rows > 0,
    () => `${refused.rows} rows were refused by the database: ${refused.lastReason}`,
  );
  say('events', events.waiting > 0 && !database.up, () => `${events.waiting} events wait for the database.`);
  say(
    'events',
    events.notOnDisk > 0,
    () => `${events.notOnDisk} events are in memory only: the disk did not take them.`,
  );
  say('disk-unknown', disk === null, () => 'How much room is left on the disk is not known.');
  say(
    'disk',
    disk !== null && disk.freeBytes < LITTLE,
    () => `The disk is nearly full: ${Math.round((disk?.freeBytes ?? 0) / 1024 ** 2)} MB are free.`,
  );
  const jump = clock.lastJump;
  say('clock', jump !== null && now - jump.at < TOLD, () => {
    const by = jump?.by ?? 0;
    return `The clock of this machine was set ${by < 0 ? 'back' : 'forward'} by ${printAge(Math.abs(by))}.`;
  });
  say('busy', loopDelay.p99 > LATE, () => `The server is busy: it comes up to ${loopDelay.max} ms late.`);
  return { state: !database.up ? 'down' : matters.length > 0 ? 'impaired' : 'up', matters };
}
