import { toDefinition, type RegisterMap, type RegisterMapInput } from '@loka/contract/registers';
import { checkMap } from '@loka/core/registers';
import { Injectable, OnModuleInit } from '@nestjs/common';
import { DeviceBook } from '../devices/deviceBook.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { conflict, invalid, notFound } from '../problem/problem.js';
import { RegisterMapEntity } from './registerMap.entity.js';
import { SHIPPED_MAPS } from './shippedMaps.js';

/** Register maps: the reusable descriptions of kinds of device. */
@Injectable()
export class RegistersService implements OnModuleInit {
  constructor(
    private readonly book: DeviceBook,
    private readonly changes: ChangeFeed,
  ) {}

  /** A Loka without any map begins with those that it ships. */
  async onModuleInit(): Promise<void> {
    if ((await this.book.maps.count()) === 0)
      await this.book.maps.save(SHIPPED_MAPS.map((map) => ({ ...map })));
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
    const map = await this.book.maps.save(this.checked(input));
    this.changes.say('register-maps');
    return map;
  }

  /** Changes a map and, with it, the points of every device made from it. */
  async update(id: number, input: RegisterMapInput): Promise<RegisterMapEntity> {
    if (!(await this.book.maps.existsBy({ id }))) throw notFound('register map', id);
    const map = await this.book.maps.save({ id, ...this.checked(input) });
    for (const device of await this.book.presentDevices())
      if (device.mapId === id) await this.book.matchPoints(device.id);
    await this.book.reload();
    this.changes.say('register-maps', 'devices', 'installation');
    return map;
  }

  async remove(id: number): Promise<void> {
    if (!(await this.book.maps.existsBy({ id }))) throw notFound('register map', id);
    const used = await this.book.devices.countBy({ mapId: id });
    if (used > 0)
      throw conflict(
        'map-in-use',
        `${used} device${used === 1 ? ' is' : 's are'} or were made from this map; their readings need it.`,
      );
    await this.book.maps.delete(id);
    this.changes.say('register-maps');
  }

  private checked(input: RegisterMapInput): Omit<RegisterMapEntity, 'id'> {
    const points = input.points.map(toDefinition);
    const faults = checkMap(points);
    if (faults.length > 0)
      throw invalid(
        faults.length === 1
          ? (faults[0]?.message ?? '')
          : `${faults.length} things in the map need another look.`,
        faults.map((fault) => ({ field: `points.${fault.index}.${fault.field}`, message: fault.message })),
      );
    return { name: input.name, description: input.description, points };
  }
}
