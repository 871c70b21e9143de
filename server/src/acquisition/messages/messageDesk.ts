import { printAge } from '@loka/core/formats';
import {
  parsePayload,
  topicFor,
  valueInPayload,
  type Availability,
  type MessageDefinition,
  type Said,
} from '@loka/core/messages';
import { isMessage } from '@loka/core/definitions';
import { isReadable } from '@loka/core/points';
import { implausible } from '@loka/core/quantities';
import { holdOf, QUALITY } from '@loka/core/series';
import type { AcquisitionHealth } from '../../devices/acquisitionHealth.js';
import type { KnownPoint } from '../../book/deviceBook.js';
import { Beat } from '../../live/beat.js';
import type { RawReading } from '../runner.js';

interface Expected {
  point: KnownPoint & { deviceId: number };
  definition: MessageDefinition;
  topic: string;
  /** When it last came, of the monotonic clock; the start, while it has not come at all. */
  last: number;
  everCame: boolean;
  silent: boolean;
  /** Since when what comes may have been waiting at the broker; null once it comes as it is read. */
  queuedSince: number | null;
}

const CHECK_EVERY = 500;

/**
 * Reads the messages of a link: finds the points of a topic, takes their values out of the payload, notices who
 * says that it is offline and who has been silent for longer than its interval allows. Knows nothing of how
 * messages arrive.
 */
export class MessageDesk {
  private readonly byTopic = new Map<string, Expected[]>();
  private readonly availability = new Map<string, { deviceId: number; availability: Availability }[]>();
  private readonly offline = new Set<number>();
  private readonly expected: Expected[];
  private timer: NodeJS.Timeout | null = null;
  private readonly beat = new Beat(CHECK_EVERY);

  /** The topics of devices of which nothing was kept from before. */
  readonly newTopics = new Set<string>();

  /** @param before whose place it takes: what is known of the devices that have not changed is kept */
  constructor(
    private readonly linkId: number,
    points: readonly KnownPoint[],
    private readonly health: AcquisitionHealth,
    private readonly deliver: (readings: RawReading[]) => void,
    before?: { desk: MessageDesk; changed: ReadonlySet<number> },
  ) {
    const start = performance.now();
    const kept = (deviceId: number) => (before?.changed.has(deviceId) ? undefined : before?.desk);
    this.expected = points.flatMap((point) => {
      const { definition, deviceId } = point;
      if (deviceId === null || !isMessage(definition) || !isReadable(definition)) return [];
      const topic = topicFor(definition.topic, point.topic);
      return [
        {
          point: { ...point, deviceId },
          definition,
          topic,
          last: start,
          everCame: false,
          silent: false,
          queuedSince: null,
        },
      ];
    });
    for (const entry of this.expected) {
      this.byTopic.set(entry.topic, [...(this.byTopic.get(entry.topic) ?? []), entry]);
      const known = kept(entry.point.deviceId)?.expected.find((e) => e.point.id === entry.point.id);
      if (known) {
        const { last, everCame, silent, queuedSince } = known;
        Object.assign(entry, { last, everCame, silent, queuedSince });
      } else this.newTopics.add(entry.topic);
    }
    for (const { deviceId, topic, availability } of points) {
      if (deviceId === null || !availability) continue;
      const at = topicFor(availability.topic, topic);
      const list = this.availability.get(at) ?? [];
      if (list.some((l) => l.deviceId === deviceId)) continue;
      this.availability.set(at, [...list, { deviceId, availability }]);
      const known = kept(deviceId);
      if (!known) this.newTopics.add(at);
      else if (known.isOffline(deviceId)) this.offline.add(deviceId);
    }
  }

  /** The topics to be told of. */
  get topics(): string[] {
    return [...new Set([...this.byTopic.keys(), ...this.availability.keys()])];
  }

  /** Whether a device says, or its broker on its behalf, that it is not there. */
  isOffline(deviceId: number): boolean {
    return this.offline.has(deviceId);
  }

  start(): void {
    this.timer ??= setInterval(() => this.checkSilence(performance.now()), CHECK_EVERY);
  }

  stop(): void {
    if (this.timer) clearInterval(this.timer);
  }

  /**
   * Takes a message in; whether any point or device was waiting for it. A retained one is what was last said, at an
   * instant that nobody knows, so it tells the state of a device but is no reading, unless it has its own time.
   */
  take(
    topic: string,
    payload: string,
    arrived: number,
    { retained = false, said = {} }: { retained?: boolean; said?: Said } = {},
  ): boolean {
    const availability = this.availability.get(topic);
    for (const { deviceId, availability: a } of availability ?? []) this.tellPresence(deviceId, a, payload);
    const waiting = this.byTopic.get(topic);
    if (!waiting) return availability !== undefined;
    const usable = waiting.filter(
      (e) => !retained || e.definition.timePointer !== undefined || e.definition.quantity === 'contact-state',
    );
    const parsed = parsePayload(payload);
    const readings = usable.map((entry) => this.reading(entry, parsed, arrived, said));
    // When a retained message was said, nobody knows.
    this.deliver(retained ? readings.map((r) => ({ ...r, at: -Infinity })) : readings);
    return true;
  }

  private reading(
    entry: Expected,
    parsed: ReturnType<typeof parsePayload>,
    arrived: number,
    said: Said,
  ): RawReading {
    const { point, definition } = entry;
    const now = performance.now();
    const queued = wasQueued(entry, now);
    if (!queued) entry.queuedSince = null;
    entry.last = now;
    entry.everCame = true;
    entry.silent = false;
    const found = 'fault' in parsed ? parsed : valueInPayload(definition, parsed.json, arrived, said);
    if ('fault' in found) {
      this.health.misread(this.linkId, point.deviceId, `${definition.name}: ${found.fault}`);
      return { pointId: point.id, t: arrived, raw: null, q: QUALITY.badAnswer };
    }
    this.offline.delete(point.deviceId);
    this.health.answered(this.linkId, point.deviceId, null, entry.topic);
    if (found.ownTime) this.tellLateness(entry, arrived - found.t);
    return {
      pointId: point.id,
      t: found.t,
      raw: found.value,
      q: qualityOf(entry, found, queued),
      ownTime: found.ownTime,
    };
  }

  private tellLateness({ point, definition }: Expected, lateness: number): void {
    if (lateness <= holdOf(definition.intervalMs)) return;
    this.health.late(
      this.linkId,
      point.deviceId,
      `${definition.name} came ${printAge(lateness)} after the time that it says. Its clock is slow by that much, or it was delayed on its way. It is recorded, but not shown, watched or acted on.`,
    );
  }

  private tellPresence(deviceId: number, { online, offline }: Availability, payload: string): void {
    const text = payload.trim();
    if (text === online) {
      this.offline.delete(deviceId);
      for (const entry of this.ofDevice(deviceId)) entry.last = performance.now();
    } else if (text === offline) {
      this.offline.add(deviceId);
      this.fail(
        deviceId,
        QUALITY.offline,
        'It reports that it is offline, or its broker does: check its power and its radio.',
        this.ofDevice(deviceId),
      );
    } else
      this.health.misread(
        this.linkId,
        deviceId,
        `Availability “${text.slice(0, 60)}” is neither “${online}” nor “${offline}”.`,
      );
  }

  private ofDevice(deviceId: number): Expected[] {
    return this.expected.filter((e) => e.point.deviceId === deviceId);
  }

  private checkSilence(now: number): void {
    // While the process stood still nobody was silent: what came meanwhile is still to be read.
    const stood = this.beat.stoodStill(now);
    for (const entry of this.expected) entry.last += stood;
    const silent = this.expected.filter(
      (e) =>
        !e.silent && !this.offline.has(e.point.deviceId) && now - e.last > holdOf(e.definition.intervalMs),
    );
    // Once a topic, however many values of a device come on it.
    for (const place of new Set(silent.map(placeOf))) {
      const own = silent.filter((e) => placeOf(e) === place);
      for (const entry of own) entry.silent = true;
      const { topic, definition, everCame, last, point } = own[0] as Expected;
      const since = everCame ? `for ${printAge(now - last)}` : 'yet';
      this.fail(
        point.deviceId,
        QUALITY.silent,
        `Nothing has arrived on “${topic}” ${since}, and it should report every ${printAge(definition.intervalMs)}. Check the device’s power and radio, and the spelling of the topic.`,
        own,
        topic,
      );
    }
  }

  private fail(
    deviceId: number,
    quality: number,
    message: string,
    entries: Expected[],
    topic?: string,
  ): void {
    this.health.failed(this.linkId, deviceId, { kind: 'silent', message, linkDown: false }, topic);
    const t = Date.now();
    this.deliver(entries.map(({ point }) => ({ pointId: point.id, t, raw: null, q: quality })));
  }

  /** Nothing can come any more: every point turns bad with the reason. */
  lost(quality: number): void {
    const t = Date.now();
    this.deliver(this.expected.map(({ point }) => ({ pointId: point.id, t, raw: null, q: quality })));
  }

  /**
   * Starts counting silence again, after a time in which nothing could come.
   * @param kept the broker has kept what came meanwhile, and delivers it now
   */
  resume({ kept = false } = {}): void {
    const now = performance.now();
    for (const entry of this.expected) {
      entry.last = now;
      entry.silent = false;
      entry.queuedSince = kept ? now : null;
    }
  }
}

/** What has been waiting comes within this time after the connection, or on the heels of what has. */
const AT_ONCE = 2000;

/**
 * Whether a message may have been waiting at the broker: it comes right after the connection, or faster than its topic
 * is reported. Nothing in it tells.
 */
function wasQueued({ queuedSince, last, definition }: Expected, arrived: number): boolean {
  if (queuedSince === null) return false;
  const first = last === queuedSince;
  return first ? arrived - queuedSince < AT_ONCE : arrived - last < definition.intervalMs / 2;
}

function qualityOf(
  { definition }: Expected,
  found: { value: number; q: number; ownTime: boolean },
  queued: boolean,
): number {
  if (found.q !== QUALITY.good) return found.q;
  if (implausible(definition.quantity, found.value)) return QUALITY.implausible;
  return queued && !found.ownTime ? QUALITY.queued : QUALITY.good;
}

/** A topic of a device. */
const placeOf = ({ topic, point }: Expected): string => `${point.deviceId} ${topic}`;
