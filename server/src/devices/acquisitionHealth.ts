import type { Health } from '@loka/contract/devices';
import { Injectable } from '@nestjs/common';
import { ChangeFeed } from '../live/changeFeed.js';

const KEPT_TIMES = 20;

interface Record extends Health {
  times: number[];
}

const idle = (): Record => ({ state: 'idle', since: Date.now(), fault: null, responseMs: null, times: [] });

/** How links and devices fare; the poller writes it, the screens read it. */
@Injectable()
export class AcquisitionHealth {
  private readonly links = new Map<number, Record>();
  private readonly devices = new Map<number, Record>();

  constructor(private readonly changes: ChangeFeed) {}

  answered(linkId: number, deviceId: number, ms: number): void {
    this.move(this.record(this.links, linkId), 'answering', null, ms);
    this.move(this.record(this.devices, deviceId), 'answering', null, ms);
  }

  /** @param linkDown whether nothing at all can be reached over the link */
  failed(linkId: number, deviceId: number, fault: string, linkDown: boolean): void {
    if (linkDown) this.move(this.record(this.links, linkId), 'failing', fault);
    this.move(this.record(this.devices, deviceId), 'failing', fault);
  }

  ofLink(id: number, enabled: boolean): Health {
    return enabled
      ? plain(this.links.get(id) ?? idle())
      : { state: 'off', since: 0, fault: null, responseMs: null };
  }

  ofDevice(id: number): Health {
    return plain(this.devices.get(id) ?? idle());
  }

  forgetLink(id: number, deviceIds: number[]): void {
    this.links.delete(id);
    for (const device of deviceIds) this.devices.delete(device);
  }

  private record(records: Map<number, Record>, id: number): Record {
    const record = records.get(id) ?? idle();
    records.set(id, record);
    return record;
  }

  private move(record: Record, state: Health['state'], fault: string | null, ms?: number): void {
    if (ms !== undefined) record.times = [...record.times.slice(1 - KEPT_TIMES), ms];
    if (record.state !== state || record.fault !== fault) this.changes.say('links', 'devices');
    if (record.state !== state) record.since = Date.now();
    record.state = state;
    record.fault = fault;
  }
}

function plain({ state, since, fault, times }: Record): Health {
  const sorted = [...times].sort((a, b) => a - b);
  return { state, since, fault, responseMs: sorted[sorted.length >> 1] ?? null };
}
