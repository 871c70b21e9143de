import { isUnitFault, isWritableKind, spanOf, wordsFor } from '@loka/core/registers';
import { isRegister } from '@loka/core/definitions';
import { QUALITY } from '@loka/core/series';
import type { AcquisitionHealth } from '../../devices/acquisitionHealth.js';
import type { KnownPoint } from '../../book/deviceBook.js';
import type { AllowedNetworks } from '../../security/allowedNetworks.js';
import { Problem } from '../../problem/errors.js';
import { LinkFault, type Fault, type RawReading, type Runner } from '../runner.js';
import { Connection, isException, type ModbusAddress } from './connection.js';
import { decode } from './decode.js';
import { explainFault } from './fault.js';
import { Polls, type Poll } from './polls.js';

export interface ModbusLink extends ModbusAddress {
  id: number;
  retries: number;
}

/** A device that is polled as fast as it answers, for a while. */
interface FastLook {
  polls: readonly Poll[];
  /** Which of them comes next. */
  next: number;
  /** When it is asked next, of the monotonic clock. */
  due: number;
  /** Of the monotonic clock. */
  until: number;
  signal: AbortSignal;
  take: (readings: RawReading[], at: number) => void;
  resolve: () => void;
  reject: (error: Error) => void;
}

interface Task {
  run: () => Promise<void>;
}

const LONGEST_BACKOFF = 15_000;
/** A device that answers at once is still asked no more often than this, ms: a hundred times a second shows any start. */
const FASTEST = 10;
/** From this many lone time-outs on, it is the request to which a device gives no answer. */
const LONE_TIMEOUTS = 3;

/**
 * Polls the devices of one link: one request at a time, aligned to the wall clock, each interval on its own.
 * Commands go before polls. A unit that fails is asked again with growing pauses and does not hold up the others.
 */
export class ModbusRunner implements Runner {
  private readonly connection: Connection;
  private readonly polls: Polls;
  private readonly tasks: Task[] = [];
  /** Until when a device is left alone, of the monotonic clock. */
  private readonly backoff = new Map<number, { failures: number; until: number }>();
  /** When a device last answered, of the monotonic clock. */
  private readonly heard = new Map<number, number>();
  /** Answers that have come and are not decoded yet. */
  private readonly unread: { poll: Poll; words: number[]; t: number; at: number }[] = [];
  private fast: FastLook | null = null;
  private stopped = false;
  private wake: (() => void) | null = null;
  private loop: Promise<void> | null = null;

  constructor(
    private readonly link: ModbusLink,
    points: readonly KnownPoint[],
    networks: AllowedNetworks,
    private readonly health: AcquisitionHealth,
    private readonly deliver: (readings: RawReading[]) => void,
  ) {
    this.connection = new Connection(link, networks);
    this.polls = new Polls(points, link.maxWords);
  }

  start(): void {
    this.loop = this.run();
  }

  async stop(): Promise<void> {
    this.stopped = true;
    this.wake?.();
    await this.loop;
    this.catchUp();
    this.connection.close();
  }

  /**
   * Runs something on the connection as soon as the request under way is done, or not at all when that takes longer than
   * `withinMs`. Its faults come back explained.
   */
  ask<T>(
    what: string,
    unit: number,
    action: (connection: Connection) => Promise<T>,
    withinMs = Infinity,
    doing: 'reading' | 'writing' = 'reading',
  ): Promise<T> {
    const latest = performance.now() + withinMs;
    return new Promise((resolve, reject) => {
      if (this.stopped)
        return reject(
          new LinkFault({
            kind: 'connection lost',
            quality: QUALITY.disconnected,
            message: 'The link has just been changed; try again.',
            linkDown: true,
            exception: null,
          }),
        );
      this.tasks.push({
        run: async () => {
          try {
            if (performance.now() > latest)
              throw new LinkFault({
                kind: 'time-out',
                quality: QUALITY.timeout,
                message: `The link was busy for more than ${withinMs / 1000} s; nothing was sent.`,
                linkDown: false,
                exception: null,
              });
            resolve(await action(this.connection));
          } catch (error) {
            reject(
              error instanceof LinkFault
                ? error
                : new LinkFault(explainFault(error, { ...this.link, unit, what, doing })),
            );
          }
        },
      });
      this.wake?.();
    });
  }

  /** Writes a value (base units) to a point. @throws LinkFault, Problem */
  async write({ definition, unit }: KnownPoint, value: number, withinMs: number): Promise<void> {
    const span = isRegister(definition) ? spanOf(definition) : null;
    if (!isRegister(definition) || !span || !isWritableKind(definition.kind))
      throw new Problem('not-writable', `“${definition.name}” cannot be written.`);
    const { kind } = span;
    const words = wordsFor(definition, value);
    await this.ask(
      `writing ${kind} ${span.start}`,
      unit,
      (c) => c.write(unit, kind as 'coil' | 'holding', span.start, words, definition.writeMultiple),
      withinMs,
      'writing',
    );
  }

  /** Brings the next poll of a point forward, so that what was just switched is seen at once. */
  hurry(pointId: number): void {
    for (const poll of this.polls.all) if (poll.request.items.some((p) => p.id === pointId)) poll.due = 0;
    this.wake?.();
  }

  /**
   * Polls points of one device as fast as it answers, until an instant of the monotonic clock or until it is called off; the
   * polls of all others, and what is written, keep their turn. Rejects when it does not answer.
   * @param take called with each answer, and when it came, of the monotonic clock
   */
  lookFast(
    points: readonly KnownPoint[],
    until: number,
    signal: AbortSignal,
    take: (readings: RawReading[], at: number) => void,
  ): Promise<void> {
    return new Promise((resolve, reject) => {
      // A link that is just being stopped asks nothing any more.
      if (this.stopped) return resolve();
      const polls = new Polls(points, this.link.maxWords).all;
      this.fast = { polls, next: 0, due: 0, until, signal, take, resolve, reject };
      this.wake?.();
    });
  }

  /** Until it is asked again, ms; a round that has begun goes on. */
  private fastWait({ next, polls, due, signal }: FastLook): number {
    return signal.aborted || polls.length === 0 || next % polls.length !== 0 ? 0 : due - performance.now();
  }

  private async fastPoll(look: FastLook): Promise<void> {
    const poll = look.polls[look.next++ % look.polls.length];
    if (!poll || look.signal.aborted || performance.now() >= look.until) {
      this.fast = null;
      return look.resolve();
    }
    const asked = performance.now();
    // All requests of a round go together.
    if (look.next % look.polls.length === 1 % look.polls.length) look.due = asked + FASTEST;
    try {
      const words = await this.connection.read(poll.unit, poll.request);
      const { doubtedFor } = this.connection;
      const answered = performance.now() - doubtedFor;
      // The device has taken it somewhere in between.
      look.take(decode(poll, words, Math.round(Date.now() - doubtedFor), asked), (asked + answered) / 2);
    } catch (error) {
      this.fast = null;
      look.reject(new LinkFault(explainFault(error, { ...this.link, unit: poll.unit, what: poll.words })));
      if (!isException(error)) this.connection.letGo(error);
    }
  }

  private async run(): Promise<void> {
    while (!this.stopped) {
      const task = this.tasks.shift();
      if (task) {
        await task.run();
        continue;
      }
      const poll = this.nextPoll();
      const wait = poll ? this.whenDue(poll) - performance.now() : 60_000;
      if (poll && wait <= 0) await this.pollSafely(poll);
      else if (this.fast && this.fastWait(this.fast) <= 0) await this.fastPoll(this.fast);
      else await this.sleep(Math.min(wait, this.fast ? this.fastWait(this.fast) : 60_000));
    }
    for (const task of this.tasks.splice(0)) await task.run();
    this.fast?.resolve();
    this.fast = null;
  }

  /**
   * Puts the decoding of an answer off until the next request is on the wire, so that it does not keep the line idle.
   * It is done before anything else comes in, and in order.
   */
  private readSoon(answer: { poll: Poll; words: number[]; t: number; at: number }): void {
    if (this.unread.push(answer) === 1) process.nextTick(() => this.catchUp());
  }

  private catchUp(): void {
    for (const { poll, words, t, at } of this.unread.splice(0)) {
      try {
        this.deliver(decode(poll, words, t, at));
      } catch (error) {
        this.failed(poll, explainFault(error, { ...this.link, unit: poll.unit, what: poll.words }));
      }
    }
  }

  private whenDue(poll: Poll): number {
    return this.backoff.size === 0
      ? poll.due
      : Math.max(poll.due, this.backoff.get(poll.deviceId)?.until ?? 0);
  }

  private nextPoll(): Poll | undefined {
    let best: Poll | undefined;
    let bestDue = Infinity;
    for (const poll of this.polls.all) {
      const due = this.whenDue(poll);
      if (due < bestDue) [best, bestDue] = [poll, due];
    }
    return best;
  }

  /** Nothing in an answer, and in what is made of it, may end the polling of a link. */
  private async pollSafely(poll: Poll): Promise<void> {
    try {
      await this.poll(poll);
    } catch (error) {
      poll.due = Math.max(poll.due, performance.now() + poll.intervalMs);
      this.health.misread(this.link.id, poll.deviceId, `${poll.words}: ${(error as Error).message}`);
    }
  }

  private async poll(poll: Poll): Promise<void> {
    // At the next multiple of the interval on the wall clock, counted by the monotonic one.
    poll.due = performance.now() + poll.intervalMs - (Date.now() % poll.intervalMs);
    const { unit, deviceId } = poll;
    const began = performance.now();
    try {
      // A unit that has not answered for some time is asked once.
      const retries = this.backoff.has(deviceId) ? 0 : this.link.retries;
      const words = await this.connection.readPatiently(unit, poll.request, retries);
      const { doubtedFor } = this.connection;
      const t = Math.round(Date.now() - doubtedFor);
      this.backoff.delete(deviceId);
      this.heard.set(deviceId, performance.now());
      poll.lone = 0;
      poll.lostAt = null;
      this.health.answered(this.link.id, deviceId, performance.now() - began - doubtedFor, poll.words);
      this.readSoon({ poll, words, t, at: began });
      for (const part of this.polls.answered(poll, performance.now()))
        this.health.forgetPart(deviceId, part.words);
    } catch (error) {
      this.failed(poll, explainFault(error, { ...this.link, unit, what: poll.words }));
      if (!isException(error)) this.connection.letGo(error);
    }
  }

  private failed(poll: Poll, fault: Fault): void {
    const lone = this.isLone(poll, fault);
    const ofRequest = lone || (fault.exception !== null && !isUnitFault(fault.exception));
    if (ofRequest && poll.request.items.length > 1) return this.cut(poll);
    const t = Date.now();
    const now = performance.now();
    const polls = ofRequest ? [poll] : fault.linkDown ? this.polls.all : this.polls.ofDevice(poll.deviceId);
    for (const p of polls) this.polls.failed(p, performance.now());
    this.deliver(
      polls.flatMap((p) =>
        p.request.items.map((point) => ({ pointId: point.id, t, raw: null, q: fault.quality })),
      ),
    );
    for (const deviceId of new Set(polls.map((p) => p.deviceId)))
      this.health.failed(
        this.link.id,
        deviceId,
        lone
          ? { ...fault, message: `${fault.message} It answers others: perhaps it has no such register.` }
          : fault,
        ofRequest ? poll.words : undefined,
      );
    // What costs a time-out each time is asked less often, for the sake of the others on the link.
    if (lone) poll.due = Math.max(poll.due, now + LONGEST_BACKOFF);
    if (ofRequest) return;
    for (const deviceId of new Set(polls.map((p) => p.deviceId))) {
      const failures = (this.backoff.get(deviceId)?.failures ?? 0) + 1;
      this.backoff.set(deviceId, {
        failures,
        until: now + Math.min(LONGEST_BACKOFF, 500 * 2 ** Math.min(failures, 6)),
      });
    }
  }

  /** Whether a device leaves this one request without an answer, time and again, while it answers others. */
  private isLone(poll: Poll, fault: Fault): boolean {
    if (fault.kind !== 'time-out') return false;
    const { lostAt, deviceId } = poll;
    const answeredOthers = lostAt !== null && (this.heard.get(deviceId) ?? 0) > lostAt;
    poll.lone = answeredOthers ? poll.lone + 1 : 0;
    poll.lostAt = performance.now();
    return poll.lone >= LONE_TIMEOUTS;
  }

  /** The request is refused, or not answered, because of something in it; the rest of it goes on. */
  private cut(poll: Poll): void {
    this.health.forgetPart(poll.deviceId, poll.words);
    this.polls.cut(poll, performance.now());
  }

  private sleep(ms: number): Promise<void> {
    return new Promise((resolve) => {
      const done = () => {
        clearTimeout(timer);
        this.wake = null;
        resolve();
      };
      const timer = setTimeout(done, ms);
      this.wake = done;
      if (this.tasks.length > 0 || this.stopped) done();
    });
  }
}
