import type { FaultCount, FaultKind, Health } from '@loka/contract/acquisition';
import { Injectable } from '@nestjs/common';
import { ChangeFeed } from '../live/changeFeed.js';

const KEPT_TIMES = 200;
/** Seconds over which the rate is told. */
const RATE_SPAN = 10;

interface Record {
  state: Health['state'];
  since: number;
  fault: string | null;
  times: number[];
  /** How many there have been. */
  timed: number;
  /** Answers of each of the last seconds, by the second. */
  answers: Map<number, number>;
  faults: Map<FaultKind, FaultCount>;
  /** Of a device: how each of its requests, or topics, fared last; null is well. */
  parts: Map<string, string | null>;
}

const idle = (): Record => ({
  state: 'idle',
  since: Date.now(),
  fault: null,
  times: [],
  timed: 0,
  answers: new Map(),
  faults: new Map(),
  parts: new Map(),
});

/** How links and devices fare; whoever reads them writes it, the screens read it. */
@Injectable()
export class AcquisitionHealth {
  private readonly links = new Map<number, Record>();
  private readonly devices = new Map<number, Record>();

  constructor(private readonly changes: ChangeFeed) {}

  /**
   * @param ms response time; null where the device reports by itself
   * @param part which request or topic it was
   */
  answered(linkId: number, deviceId: number | null, ms: number | null, part = ''): void {
    this.move(this.record(this.links, linkId), 'answering', null);
    this.note(this.record(this.links, linkId), ms);
    if (deviceId === null) return;
    const device = this.record(this.devices, deviceId);
    // The usual case, thousands of times a second: nothing has changed.
    if (device.state !== 'answering' || device.parts.get(part) !== null) {
      device.parts.set(part, null);
      this.judge(device);
    }
    this.note(device, ms);
  }

  /**
   * A device that fails, or, with `deviceId` null, the link as a whole.
   * @param part the one request or topic that fails; missing when the device does altogether
   */
  failed(
    linkId: number,
    deviceId: number | null,
    { kind, message, linkDown }: { kind: FaultKind; message: string; linkDown: boolean },
    part?: string,
  ): void {
    const link = this.record(this.links, linkId);
    this.count(link, kind, message);
    if (linkDown) this.move(link, 'failing', message);
    if (deviceId === null) return;
    const device = this.record(this.devices, deviceId);
    this.count(device, kind, message);
    if (part === undefined) device.parts.clear();
    else device.parts.set(part, message);
    if (part === undefined) this.move(device, 'failing', message);
    else this.judge(device);
  }

  /** Something that was not understood, while the device as such goes on. */
  misread(linkId: number, deviceId: number | null, message: string): void {
    this.count(this.record(this.links, linkId), 'not understood', message);
    if (deviceId !== null) this.count(this.record(this.devices, deviceId), 'not understood', message);
  }

  /** Something that came too late to be the present, while the device as such goes on. */
  late(linkId: number, deviceId: number, message: string): void {
    this.count(this.record(this.links, linkId), 'late', message);
    this.count(this.record(this.devices, deviceId), 'late', message);
  }

  ofLink(id: number, enabled: boolean): Health {
    return enabled ? plain(this.links.get(id) ?? idle()) : { ...plain(idle()), state: 'off', since: 0 };
  }

  ofDevice(id: number): Health {
    return plain(this.devices.get(id) ?? idle());
  }

  forgetLink(id: number, deviceIds: number[]): void {
    this.links.delete(id);
    for (const device of deviceIds) this.forgetDevice(device);
  }

  forgetDevice(id: number): void {
    this.devices.delete(id);
  }

  private record(records: Map<number, Record>, id: number): Record {
    const record = records.get(id) ?? idle();
    records.set(id, record);
    return record;
  }

  private count(record: Record, kind: FaultKind, last: string): void {
    const count = (record.faults.get(kind)?.count ?? 0) + 1;
    record.faults.set(kind, { kind, count, last, at: Date.now() });
  }

  private note(record: Record, ms: number | null): void {
    const second = Math.floor(Date.now() / 1000);
    // The oldest of the kept times makes room; in which order they lie is of no concern.
    if (ms !== null) record.times[record.timed++ % KEPT_TIMES] = ms;
    const before = record.answers.get(second);
    record.answers.set(second, (before ?? 0) + 1);
    if (before !== undefined) return;
    for (const old of record.answers.keys()) if (old < second - RATE_SPAN) record.answers.delete(old);
  }

  /** A request of a device that is not made any more. */
  forgetPart(deviceId: number, part: string): void {
    this.record(this.devices, deviceId).parts.delete(part);
  }

  private judge(device: Record): void {
    const faults = [...device.parts.values()].filter((message) => message !== null);
    if (faults.length === 0) this.move(device, 'answering', null);
    else this.move(device, faults.length < device.parts.size ? 'partly' : 'failing', faults[0] as string);
  }

  private move(record: Record, state: Health['state'], fault: string | null): void {
    if (record.state !== state || record.fault !== fault) this.changes.say('links', 'devices');
    if (record.state !== state) record.since = Date.now();
    record.state = state;
    record.fault = fault;
  }
}

function plain({ state, since, fault, times, answers, faults }: Record): Health {
  const sorted = [...times].sort((a, b) => a - b);
  // The second that is still running does not count yet.
  const now = Math.floor(Date.now() / 1000);
  const seconds = Math.max(1, Math.min(RATE_SPAN, now - Math.ceil(since / 1000)));
  let answered = 0;
  for (const [second, count] of answers) if (second >= now - seconds && second < now) answered += count;
  return {
    state,
    since,
    fault,
    responseMs: sorted[sorted.length >> 1] ?? null,
    response95Ms: sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * 0.95))] ?? null,
    perSecond: answered / seconds,
    faults: [...faults.values()].sort((a, b) => b.at - a.at),
  };
}
