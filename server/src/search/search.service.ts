import type { FoundDevice, FoundDeviceInput, Search, SearchInput } from '@loka/contract/search';
import { LinkInput } from '@loka/contract/links';
import { addressesIn, numbersIn, plausibility, SearchRangeError, type TriedValue } from '@loka/core/devices';
import {
  isBitKind,
  isReadable,
  planReads,
  readSpanOf,
  RegisterValueError,
  valueOf,
  type PointDefinition,
  type Span,
} from '@loka/core/registers';
import { Injectable } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { Connection } from '../acquisition/modbus/connection.js';
import { DeviceBook } from '../book/deviceBook.js';
import { DevicesService } from '../devices/devices.service.js';
import { LinksService } from '../devices/links.service.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { invalidField, notFound, Problem } from '../problem/errors.js';
import type { RegisterMapEntity } from '../book/registerMap.entity.js';
import { AllowedNetworks } from '../security/allowedNetworks.js';
import { SunspecService } from './sunspec.service.js';
import { walkSunspec } from './sunspecWalk.js';

/** Addresses that are tried at the same time. */
const AT_ONCE = 24;
/** Of a map, this many values are read to see whether it fits. */
const TRIED_VALUES = 16;
const LEAST_PLAUSIBLE = 0.4;
/** Time-out for units that are there, ms. */
const PATIENCE = 1500;
/** Exceptions with which a gateway says that nobody is behind it at this unit id. */
const NOBODY = [10, 11];

interface Running extends Search {
  cancelled: boolean;
}

const isException = (error: unknown): error is { modbusCode: number } =>
  (error as { modbusCode?: number }).modbusCode !== undefined;

/** Looks for devices that speak Modbus at the addresses that links may reach, and says what it recognises. */
@Injectable()
export class SearchService {
  private last: Running | null = null;

  constructor(
    private readonly book: DeviceBook,
    private readonly devices: DevicesService,
    private readonly links: LinksService,
    private readonly networks: AllowedNetworks,
    private readonly sunspec: SunspecService,
    private readonly changes: ChangeFeed,
  ) {}

  /** The search under way, or the last one; null before the first. */
  state(): Search | null {
    if (!this.last) return null;
    const { cancelled: _, ...search } = this.last;
    return search;
  }

  /** Begins a search. @throws Problem when a range is none, or is not allowed */
  start(input: SearchInput): Search {
    if (this.last?.state === 'running')
      throw new Problem('searching', 'A search is under way; cancel it first.');
    const hosts = this.range('addresses', () => addressesIn(input.addresses));
    const ports = this.range('ports', () => numbersIn(input.ports, 1, 65535, 'ports'));
    const units = this.range('units', () => numbersIn(input.units, 0, 255, 'unit ids'));
    const forbidden = hosts.find((host) => !this.networks.allows(host));
    if (forbidden)
      throw invalidField(
        'addresses',
        `${forbidden} is not in the networks that links may reach: ${this.networks.networks.join(', ')}. The owner sets them in LOKA_ALLOWED_NETWORKS.`,
      );
    if (hosts.length * ports.length > 4096)
      throw invalidField('ports', 'That is more than 4096 places; search fewer ports at once.');
    const targets = hosts.flatMap((host) => ports.map((port) => ({ host, port })));
    const search: Running = {
      id: randomUUID(),
      state: 'running',
      tried: 0,
      of: targets.length,
      found: [],
      message: null,
      cancelled: false,
    };
    this.last = search;
    this.changes.say('searches');
    void this.run(search, targets, units, input.timeoutMs);
    return this.state() as Search;
  }

  cancel(id: string): void {
    if (this.last?.id !== id) throw notFound('search', id);
    this.last.cancelled = true;
  }

  /** Makes a device, and its link where there is none, of something that was found. */
  async add({ name, host, port, unit, mapId }: FoundDeviceInput): Promise<{ id: number }> {
    const links = await this.book.links.find();
    const there = links.find((l) => l.kind === 'modbus-tcp' && l.host === host && l.port === port);
    const linkId =
      there?.id ?? (await this.links.create(Object.assign(new LinkInput(), { name, host, port }))).id;
    try {
      const added =
        mapId === null || mapId === undefined
          ? await this.sunspec.add({ linkId, unit, name })
          : await this.devices.createDevice({ linkId, unit, mapId, name, topic: '' });
      for (const found of this.last?.found ?? [])
        if (found.host === host && found.port === port && found.unit === unit) found.deviceId = added.id;
      this.changes.say('searches');
      return { id: added.id };
    } catch (error) {
      if (!there) await this.links.remove(linkId);
      throw error;
    }
  }

  private range<T>(field: string, read: () => T): T {
    try {
      return read();
    } catch (error) {
      if (error instanceof SearchRangeError) throw invalidField(field, error.message);
      throw error;
    }
  }

  private async run(
    search: Running,
    targets: { host: string; port: number }[],
    units: number[],
    timeoutMs: number,
  ): Promise<void> {
    try {
      const maps = (await this.book.maps.find()).filter((map) => map.points.length > 0);
      const next = targets[Symbol.iterator]();
      const worker = async () => {
        for (const { host, port } of next) {
          if (search.cancelled) return;
          await this.tryPlace(search, host, port, units, timeoutMs, maps);
          search.tried++;
          this.changes.say('searches');
        }
      };
      await Promise.all(Array.from({ length: AT_ONCE }, worker));
      search.state = search.cancelled ? 'cancelled' : 'done';
    } catch (error) {
      search.state = 'failed';
      search.message = (error as Error).message;
    }
    this.changes.say('searches');
  }

  private async tryPlace(
    search: Running,
    host: string,
    port: number,
    units: number[],
    timeoutMs: number,
    maps: RegisterMapEntity[],
  ): Promise<void> {
    const connection = new Connection(
      Object.assign(new LinkInput(), { host, port, timeoutMs }),
      this.networks,
    );
    try {
      await connection.open();
    } catch {
      return connection.close(); // nobody there: what most places of a search are
    }
    // Whoever has answered once is given more time: what is asked now is more, and a lost answer would mislead.
    const patient = new Connection(
      Object.assign(new LinkInput(), { host, port, timeoutMs: Math.max(PATIENCE, timeoutMs) }),
      this.networks,
    );
    try {
      for (const unit of units) {
        if (search.cancelled) return;
        if (!(await answers(connection, unit))) continue;
        connection.close(); // some devices allow only one
        search.found.push(await this.recognise(patient, host, port, unit, maps));
        patient.close();
        this.changes.say('searches');
      }
    } finally {
      connection.close();
      patient.close();
    }
  }

  private async recognise(
    connection: Connection,
    host: string,
    port: number,
    unit: number,
    maps: RegisterMapEntity[],
  ): Promise<FoundDevice> {
    const identification = await quietly(() => connection.identify(unit));
    const sunspec = await quietly(() => walkSunspec((span) => connection.read(unit, span), isException));
    const fits: FoundDevice['maps'] = [];
    for (const { id, name, points } of maps) {
      const score = await tryMap(connection, unit, points);
      if (score >= LEAST_PLAUSIBLE) fits.push({ id, name, plausibility: score });
    }
    const links = await this.book.links.find();
    const linkIds = links.filter((l) => l.host === host && l.port === port).map((l) => l.id);
    const known = (await this.book.presentDevices()).find(
      (d) => linkIds.includes(d.linkId) && d.unit === unit,
    );
    const said = identification?.filter((text) => text.trim() !== '').join(', ');
    const common = sunspec ? [sunspec.maker, sunspec.model, sunspec.serial].filter(Boolean).join(' ') : '';
    return {
      host,
      port,
      unit,
      identification: said || common || null,
      sunspec: sunspec?.meter ? { model: sunspec.meter.model, words: sunspec.meter.words } : null,
      maps: fits.sort((a, b) => b.plausibility - a.plausibility).slice(0, 5),
      deviceId: known?.id ?? null,
    };
  }
}

/** Whether somebody is at a unit id. An exception is an answer, but not a gateway's that nobody is there. */
async function answers(connection: Connection, unit: number): Promise<boolean> {
  try {
    await connection.read(unit, { kind: 'holding', start: 0, count: 1 });
    return true;
  } catch (error) {
    if (!isException(error)) connection.close(); // a late answer must not be taken for the next unit's
    return isException(error) && !NOBODY.includes(error.modbusCode);
  }
}

/**
 * What a device does not know how to answer is no fault of a search; it only is not recognised by it. An answer that
 * was lost is asked for once more.
 */
async function quietly<T>(question: () => Promise<T>, again = true): Promise<T | null> {
  try {
    return await question();
  } catch (error) {
    return again && !isException(error) ? quietly(question, false) : null;
  }
}

/** How plausible what a map reads from a unit is; 0 where the unit refuses a value. */
async function tryMap(
  connection: Connection,
  unit: number,
  points: readonly PointDefinition[],
): Promise<number> {
  const tried = points
    .filter((p) => isReadable(p) && p.type !== 'string' && readSpanOf(p) !== null)
    .slice(0, TRIED_VALUES);
  const values: TriedValue[] = [];
  const span = (p: PointDefinition) => readSpanOf(p) as Span;
  for (const request of planReads(tried, span, { maxGap: 0, maxWords: 60, maxBits: 200 })) {
    const words = await quietly(() => connection.read(unit, request));
    if (!words) return 0;
    for (const point of request.items) {
      const { start, count } = span(point);
      const own = words.slice(start - request.start, start - request.start + count);
      values.push({ quantity: point.quantity, phase: point.phase, value: valueIn(point, own) });
    }
  }
  return plausibility(values);
}

function valueIn(point: PointDefinition, words: number[]): number {
  if (isBitKind(point.kind)) return words[0] ? 1 : 0;
  try {
    return valueOf(point, words);
  } catch (error) {
    if (error instanceof RegisterValueError) return NaN;
    throw error;
  }
}
