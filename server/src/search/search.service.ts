import type {
  FoundDevice,
  FoundDeviceInput,
  RecogniseInput,
  Search,
  SearchInput,
} from '@loka/contract/search';
import { LinkInput } from '@loka/contract/links';
import { addressesIn, numbersIn, SearchRangeError } from '@loka/core/devices';
import { Injectable } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { AcquisitionService } from '../acquisition/acquisition.service.js';
import { Connection } from '../acquisition/modbus/connection.js';
import { DeviceBook } from '../book/deviceBook.js';
import { DevicesService } from '../devices/devices.service.js';
import { LinksService } from '../devices/links.service.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { invalidField, notFound, Problem } from '../problem/errors.js';
import type { RegisterMapEntity } from '../book/registerMap.entity.js';
import { AllowedNetworks } from '../security/allowedNetworks.js';
import { answers, answersAnyUnit, askUnit, throughLink, whatIs, type Asked } from './recognise.js';
import { SunspecService } from './sunspec.service.js';

/** Addresses that are tried at the same time. */
const AT_ONCE = 24;
/** Time-out for units that are there, ms. */
const PATIENCE = 1500;
/** So many of the unit ids of a place that gave no answer are asked once more, with patience. */
const ASKED_AGAIN = 10;
interface Running extends Search {
  cancelled: boolean;
}

/** Looks for devices that speak Modbus at the addresses that links may reach, and says what it recognises. */
@Injectable()
export class SearchService {
  private last: Running | null = null;

  constructor(
    private readonly book: DeviceBook,
    private readonly acquisition: AcquisitionService,
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
      mute: [],
      message: null,
      cancelled: false,
    };
    this.last = search;
    this.changes.say('searches');
    void this.run(search, targets, units, input.timeoutMs);
    return this.state() as Search;
  }

  /** What is at one unit id; nothing is kept of it. @throws Problem where nothing is at the address, or nobody answers at the unit id */
  async recogniseAt({ linkId, host, port, unit }: RecogniseInput): Promise<FoundDevice> {
    if (linkId !== undefined) {
      const link = await this.acquisition.modbusLink(linkId);
      const asked = throughLink((span) => this.acquisition.readOnce(link, unit, span));
      return this.recogniseAsked(asked, { host: link.host, port: link.port, unit });
    }
    const address = Object.assign(new LinkInput(), { host, port, timeoutMs: PATIENCE });
    await this.acquisition.testLink(address);
    const connection = new Connection(address, this.networks);
    try {
      return await this.recogniseAsked(connection, { host, port, unit });
    } finally {
      connection.close();
    }
  }

  private async recogniseAsked(
    asked: Asked,
    place: Pick<FoundDevice, 'host' | 'port' | 'unit'>,
  ): Promise<FoundDevice> {
    if (!(await answers(asked, place.unit)))
      throw invalidField('unit', `Unit ${place.unit} does not answer there.`);
    return this.recognise(asked, { ...place, anyUnit: false }, await this.registerMaps());
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

  private async registerMaps(): Promise<RegisterMapEntity[]> {
    return (await this.book.maps.find()).filter((map) => map.points.length > 0);
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
      const maps = await this.registerMaps();
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
    // Whoever has answered once is given more time: what is asked now is more, and a lost answer would mislead.
    const patient = new Connection(
      Object.assign(new LinkInput(), { host, port, timeoutMs: Math.max(PATIENCE, timeoutMs) }),
      this.networks,
    );
    try {
      await connection.open().catch(async (error: { code?: string }) => {
        // Of a few places each is given more time as well; of a whole network most are nobody's.
        if (search.of > AT_ONCE || error.code === 'ECONNREFUSED') throw error;
        await patient.open();
        patient.close(); // some devices allow only one
      });
    } catch {
      connection.close();
      return patient.close(); // nobody there: what most places of a search are
    }
    const foundHere = () => search.found.filter((f) => f.host === host && f.port === port);
    /** Whether the place has been seen whole: the other unit ids are the same device. */
    const take = async (unit: number): Promise<boolean> => {
      connection.close();
      // Asked once a place: behind a gateway nobody answers, and that takes its time.
      const anyUnit = foundHere().length === 0 && (await answersAnyUnit(patient, units));
      search.found.push(await this.recognise(patient, { host, port, unit, anyUnit }, maps));
      patient.close();
      this.changes.say('searches');
      return anyUnit;
    };
    try {
      const silent: number[] = [];
      for (const unit of units) {
        if (search.cancelled) return;
        const reply = await askUnit(connection, unit);
        if (reply === 'silence') silent.push(unit);
        if (reply === 'here' && (await take(unit))) return;
      }
      connection.close();
      // Somebody is there, and may be slow, or busy with others.
      for (const unit of silent.slice(0, ASKED_AGAIN)) {
        if (search.cancelled) return;
        if ((await askUnit(patient, unit)) === 'here' && (await take(unit))) break;
      }
      const found = foundHere().sort((a, b) => a.unit - b.unit);
      search.found = [...search.found.filter((f) => !found.includes(f)), ...found];
      if (found.length === 0) search.mute.push({ host, port });
    } finally {
      connection.close();
      patient.close();
    }
  }

  private async recognise(
    asked: Asked,
    place: Pick<FoundDevice, 'host' | 'port' | 'unit' | 'anyUnit'>,
    maps: RegisterMapEntity[],
  ): Promise<FoundDevice> {
    const { host, port, unit } = place;
    const seen = await whatIs(asked, unit, maps);
    const links = await this.book.links.find();
    const linkIds = links.filter((l) => l.host === host && l.port === port).map((l) => l.id);
    const known = (await this.book.presentDevices()).find(
      (d) => linkIds.includes(d.linkId) && d.unit === unit,
    );
    return {
      ...place,
      ...seen,
      deviceId: known?.id ?? null,
    };
  }
}
