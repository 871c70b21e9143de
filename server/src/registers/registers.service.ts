import { setImmediate } from 'node:timers/promises';
import {
  toDefinition,
  toMessage,
  type MapImpact,
  type MapVersion,
  type RegisterMap,
  type RegisterMapInput,
} from '@loka/contract/registers';
import { checkMessages } from '@loka/core/messages';
import type { AnyDefinition } from '@loka/core/definitions';
import { checkMap } from '@loka/core/registers';
import { Injectable, OnModuleInit } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { isDeepStrictEqual } from 'node:util';
import { Repository } from 'typeorm';
import { Dependents } from '../book/dependents.js';
import { DeviceBook, definitionsOf } from '../book/deviceBook.js';
import { InstallationBook } from '../book/installationBook.js';
import { kindOf, MatchedPoints } from '../devices/matchedPoints.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { ChangedMeanwhile, invalid, notFound, Problem } from '../problem/errors.js';
import { RegisterMapEntity, RegisterMapVersionEntity, type MapContent } from '../book/registerMap.entity.js';
import { SHIPPED_MAPS } from './shippedMaps.js';

/** Register maps: the reusable descriptions of kinds of device. */
@Injectable()
export class RegistersService implements OnModuleInit {
  constructor(
    private readonly book: DeviceBook,
    private readonly tree: InstallationBook,
    @InjectRepository(RegisterMapVersionEntity) private readonly kept: Repository<RegisterMapVersionEntity>,
    private readonly points: MatchedPoints,
    private readonly changes: ChangeFeed,
    private readonly resting: Dependents,
  ) {}

  /** A Loka without any map begins with those that it ships. */
  async onModuleInit(): Promise<void> {
    if ((await this.book.maps.count()) === 0)
      await this.book.maps.save(
        SHIPPED_MAPS.map((map) => ({ messages: [], points: [], availability: null, ...map, version: 1 })),
      );
  }

  async list(): Promise<RegisterMap[]> {
    const [maps, devices] = await Promise.all([
      this.book.maps.find({ order: { name: 'ASC' } }),
      this.book.presentDevices(),
    ]);
    return maps.map((map) => ({
      ...map,
      deviceIds: devices.filter((d) => d.mapId === map.id).map((d) => d.id),
    }));
  }

  async create(input: RegisterMapInput): Promise<RegisterMapEntity> {
    const map = await this.book.maps.save({ ...(await this.checked(input)), version: 1 });
    await this.keep(map);
    this.changes.say('register-maps');
    return map;
  }

  /** Changes a map and, with it, the points of every device made from it. */
  async update(id: number, input: RegisterMapInput): Promise<RegisterMap> {
    const content = await this.checked(input);
    const deviceIds = (await this.book.presentDevices()).filter((d) => d.mapId === id).map((d) => d.id);
    const map = await this.points.change(async (tables) => {
      // Of two who save at the same time, the second finds what the first has made.
      const before = await tables.findOne(RegisterMapEntity, {
        where: { id },
        lock: { mode: 'pessimistic_write' },
      });
      if (!before) throw notFound('register map', id);
      if (input.version !== undefined && input.version !== before.version)
        throw new ChangedMeanwhile('map', before.version, { ...before });
      await this.keep(before, tables);
      const changed = { ...content, version: before.version + 1 };
      // Not saved as an entity: that would compare a thousand values with what is kept, member by member.
      await tables.update(RegisterMapEntity, { id }, changed);
      const result = { ...before, ...changed };
      await this.keep(result, tables);
      return { result, deviceIds };
    });
    this.changes.say('register-maps', 'devices', 'installation');
    return { ...map, deviceIds };
  }

  /** What saving a map would change, and whom it would touch. */
  async impact(id: number, input: RegisterMapInput): Promise<MapImpact> {
    const map = await this.map(id);
    const before = new Map(definitionsOf(map).map((d) => [d.key, d]));
    const after = definitionsOf({
      points: input.points.map(toDefinition),
      messages: input.messages.map(toMessage),
    });
    const names = (list: AnyDefinition[]) => list.map((d) => d.name);
    const changed = after.filter((d) => before.has(d.key) && !isDeepStrictEqual(before.get(d.key), d));
    const gone = [...before.values()].filter((d) => !after.some((a) => a.key === d.key));
    const touched = new Set([...changed, ...gone].map((d) => d.key));
    const devices = (await this.book.presentDevices()).filter((d) => d.mapId === id);
    const putAway = this.book
      .allPoints()
      .filter((p) => devices.some((d) => d.id === p.deviceId) && gone.some((d) => d.key === p.key));
    return {
      added: names(after.filter((d) => !before.has(d.key))),
      changed: names(changed),
      removed: names(gone),
      turned: names(changed.filter((d) => kindOf(before.get(d.key) as AnyDefinition) !== kindOf(d))),
      dependents: this.resting.of(putAway.map((p) => p.id)),
      devices: devices.map((device) => {
        const nodes = this.book
          .allPoints()
          .filter((p) => p.deviceId === device.id && p.nodeId !== null && touched.has(p.key))
          .map((p) => this.tree.node(p.nodeId as number)?.name ?? '');
        return { id: device.id, name: device.name, circuits: [...new Set(nodes)].filter(Boolean) };
      }),
    };
  }

  /** Earlier states of a map, newest first. */
  async versions(id: number): Promise<MapVersion[]> {
    await this.map(id);
    const rows = await this.kept.find({ where: { mapId: id }, order: { version: 'DESC' }, take: 50 });
    return rows.map((row) => ({
      version: row.version,
      at: row.at,
      name: row.name,
      values: definitionsOf(row).length,
    }));
  }

  /** Makes an earlier state the newest one. */
  async restore(id: number, version: number): Promise<RegisterMap> {
    const row = await this.kept.findOneBy({ mapId: id, version });
    if (!row) throw notFound('version', version);
    const { name, description, points, messages, availability } = row;
    return this.update(id, { name, description, points, messages, availability } as RegisterMapInput);
  }

  private async map(id: number): Promise<RegisterMapEntity> {
    const map = await this.book.maps.findOneBy({ id });
    if (!map) throw notFound('register map', id);
    return map;
  }

  private async keep(map: RegisterMapEntity, tables = this.kept.manager): Promise<void> {
    const { id: mapId, version, name, description, points, messages, availability } = map;
    if (await tables.existsBy(RegisterMapVersionEntity, { mapId, version })) return;
    await tables.insert(RegisterMapVersionEntity, {
      mapId,
      version,
      at: Date.now(),
      name,
      description,
      points,
      messages,
      availability,
    });
  }

  async remove(id: number): Promise<void> {
    await this.map(id);
    const used = await this.book.devices.countBy({ mapId: id });
    if (used > 0)
      throw new Problem(
        'map-in-use',
        `${used} device${used === 1 ? ' is' : 's are'} or were made from this map; their readings need it.`,
      );
    await this.book.maps.delete(id);
    this.changes.say('register-maps');
  }

  private async checked(input: RegisterMapInput): Promise<MapContent> {
    // A large map has taken its time to be validated; who else waits has a turn.
    await setImmediate();
    const points = input.points.map(toDefinition);
    const messages = input.messages.map(toMessage);
    if (points.length > 0 && messages.length > 0)
      throw invalid('A map describes registers or messages, not both: a device speaks one of them.');
    const faults = [
      ...checkMap(points).map((f) => ({ ...f, list: 'points' })),
      ...checkMessages(messages).map((f) => ({ ...f, list: 'messages' })),
    ];
    if (faults.length > 0)
      throw invalid(
        faults.length === 1
          ? (faults[0]?.message ?? '')
          : `${faults.length} things in the map need another look.`,
        faults.map(({ list, index, field, message }) => ({ field: `${list}.${index}.${field}`, message })),
      );
    const { name, description, availability } = input;
    return { name, description, points, messages, availability: availability ? { ...availability } : null };
  }
}
