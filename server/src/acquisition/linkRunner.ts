import type { LiveReading } from '@loka/contract/readings';
import {
  DEFAULT_LIMITS,
  isReadable,
  planReads,
  spanOf,
  valueOf,
  type ReadRequest,
  type Span,
} from '@loka/core/registers';
import { implausible } from '@loka/core/quantities';
import { QUALITY } from '@loka/core/series';
import type { AcquisitionHealth } from '../devices/acquisitionHealth.js';
import type { KnownPoint } from '../devices/deviceBook.js';
import type { AllowedNetworks } from '../security/allowedNetworks.js';
import { Connection } from './connection.js';
import { explainFault, type Fault } from './fault.js';

/** A raw reading as it comes from the wire. */
export type RawReading = Omit<LiveReading, 'v'>;

export interface RunnerLink {
  id: number;
  host: string;
  port: number;
  timeoutMs: number;
}

interface Poll {
  deviceId: number;
  unit: number;
  intervalMs: number;
  request: ReadRequest<KnownPoint>;
  due: number;
}

interface Task {
  run: () => Promise<void>;
}

const LONGEST_BACKOFF = 15_000;

/**
 * Polls the devices of one link: one request at a time, aligned to the wall clock, each interval on its own.
 * Commands go before polls. A unit that fails is asked again with growing pauses and does not hold up the others.
 */
export class LinkRunner {
  private readonly connection: Connection;
  private polls: Poll[];
  private readonly tasks: Task[] = [];
  private readonly backoff = new Map<number, { failures: number; until: number }>();
  private stopped = false;
  private wake: (() => void) | null = null;
  private loop: Promise<void> | null = null;

  constructor(
    private readonly link: RunnerLink,
    points: readonly KnownPoint[],
    networks: AllowedNetworks,
    private readonly health: AcquisitionHealth,
    private readonly deliver: (readings: RawReading[]) => void,
  ) {
    this.connection = new Connection(link, networks);
    this.polls = planPolls(points);
  }

  start(): void {
    this.loop = this.run();
  }

  async stop(): Promise<void> {
    this.stopped = true;
    this.wake?.();
    await this.loop;
    this.connection.close();
  }

  /** Runs something on the connection as soon as the request under way is done. Its faults come back explained. */
  ask<T>(what: string, unit: number, action: (connection: Connection) => Promise<T>): Promise<T> {
    return new Promise((resolve, reject) => {
      if (this.stopped)
        return reject(
          new LinkFault({
            quality: QUALITY.disconnected,
            message: 'The link has just been changed; try again.',
            linkDown: true,
            exception: null,
          }),
        );
      this.tasks.push({
        run: async () => {
          try {
            resolve(await action(this.connection));
          } catch (error) {
            reject(new LinkFault(explainFault(error, { ...this.link, unit, what })));
          }
        },
      });
      this.wake?.();
    });
  }

  /** Brings the next poll of a point forward, so that what was just switched is seen at once. */
  hurry(pointId: number): void {
    for (const poll of this.polls) if (poll.request.items.some((p) => p.id === pointId)) poll.due = 0;
    this.wake?.();
  }

  private async run(): Promise<void> {
    while (!this.stopped) {
      const task = this.tasks.shift();
      if (task) {
        await task.run();
        continue;
      }
      const poll = this.nextPoll();
      const wait = poll ? this.whenDue(poll) - Date.now() : 60_000;
      if (poll && wait <= 0) await this.poll(poll);
      else await this.sleep(Math.min(wait, 60_000));
    }
    for (const task of this.tasks.splice(0)) await task.run();
  }

  private whenDue(poll: Poll): number {
    return Math.max(poll.due, this.backoff.get(poll.deviceId)?.until ?? 0);
  }

  private nextPoll(): Poll | undefined {
    return this.polls.reduce<Poll | undefined>(
      (best, poll) => (!best || this.whenDue(poll) < this.whenDue(best) ? poll : best),
      undefined,
    );
  }

  private async poll(poll: Poll): Promise<void> {
    poll.due = (Math.floor(Date.now() / poll.intervalMs) + 1) * poll.intervalMs;
    const { request, unit, deviceId } = poll;
    const began = performance.now();
    try {
      const words = await this.readPatiently(poll);
      const t = Date.now();
      this.backoff.delete(deviceId);
      this.health.answered(this.link.id, deviceId, performance.now() - began);
      this.deliver(request.items.map((point) => decode(point, words, request.start, t)));
    } catch (error) {
      this.failed(poll, explainFault(error, { ...this.link, unit, what: inWords(request) }));
      if (isLostAnswer(error)) this.connection.close();
    }
  }

  /**
   * Reads, and asks once more when a unit that has answered so far does not: one lost packet, or a connection
   * that the device has closed, is no fault that anybody has to see.
   */
  private async readPatiently({ unit, request, deviceId }: Poll): Promise<number[]> {
    try {
      return await this.connection.read(unit, request);
    } catch (error) {
      if (!isLostAnswer(error) || this.backoff.has(deviceId)) throw error;
      return await this.connection.read(unit, request);
    }
  }

  private failed(poll: Poll, fault: Fault): void {
    if (fault.exception !== null && poll.request.items.length > 1) return this.split(poll);
    const t = Date.now();
    this.health.failed(this.link.id, poll.deviceId, fault.message, fault.linkDown);
    const polls =
      fault.exception === null
        ? this.polls.filter((p) => (fault.linkDown ? true : p.deviceId === poll.deviceId))
        : [poll];
    this.deliver(
      polls.flatMap((p) =>
        p.request.items.map((point) => ({ pointId: point.id, t, raw: null, q: fault.quality })),
      ),
    );
    if (fault.exception !== null) return;
    for (const deviceId of new Set(polls.map((p) => p.deviceId))) {
      const failures = (this.backoff.get(deviceId)?.failures ?? 0) + 1;
      this.backoff.set(deviceId, {
        failures,
        until: t + Math.min(LONGEST_BACKOFF, 500 * 2 ** Math.min(failures, 6)),
      });
    }
  }

  /**
   * A device may refuse a joined read because of registers in between that nobody asked for, or because of one
   * value that it does not have. The request is cut, first at its gaps, then one by one, so that the rest goes on.
   */
  private split(poll: Poll): void {
    const { items } = poll.request;
    const tight = planReads(items, mustSpan, { ...DEFAULT_LIMITS, maxGap: 0 });
    const parts = tight.length > 1 ? tight : items.map((item) => ({ ...mustSpan(item), items: [item] }));
    this.polls = this.polls.flatMap((p) =>
      p === poll ? parts.map((request) => ({ ...poll, request, due: 0 })) : [p],
    );
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

/** A fault of a link or device, explained, on its way to whoever asked. */
export class LinkFault extends Error {
  override name = 'LinkFault';
  constructor(readonly fault: Fault) {
    super(fault.message);
  }
}

const mustSpan = (point: KnownPoint): Span => spanOf(point.definition) as Span;

const inWords = ({ kind, start, count }: Span): string =>
  count === 1 ? `${kind} ${start}` : `${kind} ${start}–${start + count - 1}`;

/** Nothing came back at all; an exception of the protocol is an answer. */
const isLostAnswer = (error: unknown): boolean => (error as { modbusCode?: number }).modbusCode === undefined;

function planPolls(points: readonly KnownPoint[]): Poll[] {
  const groups = new Map<string, KnownPoint[]>();
  for (const point of points) {
    if (!isReadable(point.definition) || !spanOf(point.definition)) continue;
    const group = `${point.deviceId}/${point.definition.intervalMs}`;
    groups.set(group, [...(groups.get(group) ?? []), point]);
  }
  return [...groups.values()].flatMap((list) => {
    const { deviceId, unit, definition } = list[0] as KnownPoint;
    return planReads(list, mustSpan).map((request) => ({
      deviceId,
      unit,
      intervalMs: definition.intervalMs,
      request,
      due: 0,
    }));
  });
}

function decode(point: KnownPoint, words: number[], start: number, t: number): RawReading {
  const span = mustSpan(point);
  const raw = valueOf(point.definition, words.slice(span.start - start, span.start - start + span.count));
  if (!Number.isFinite(raw)) return { pointId: point.id, t, raw: null, q: QUALITY.notANumber };
  return {
    pointId: point.id,
    t,
    raw,
    q: implausible(point.definition.quantity, raw) ? QUALITY.implausible : QUALITY.good,
  };
}
