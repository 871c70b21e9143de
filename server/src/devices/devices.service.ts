import { isStuck, stepOf } from '@loka/core/definitions';
import { quantityInfo } from '@loka/core/quantities';
import type {
  BatchTakenBack,
  Device,
  DeviceBatch,
  DeviceInput,
  DeviceSettings,
  NewDevice,
  StuckValue,
  FormerDevice,
} from '@loka/contract/devices';
import { hasAddresses, isModbusKind } from '@loka/contract/links';
import type { Dependent } from '@loka/contract/dependents';
import { Injectable } from '@nestjs/common';
import { AcquisitionHealth } from './acquisitionHealth.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { LiveReadings } from '../live/liveReadings.js';
import { changeVersioned } from '../book/versioned.js';
import { invalidField, notFound, Problem, RestsOnIt } from '../problem/errors.js';
import { CorrectionBook } from '../series/correctionBook.js';
import { Dependents } from '../book/dependents.js';
import { LOCAL_PERSON } from '../audit/person.js';
import { FittingsBook } from '../book/fittingsBook.js';
import { InstallationBook } from '../book/installationBook.js';
import { DeviceBook, type KnownPoint } from '../book/deviceBook.js';
import { LinksService } from './links.service.js';
import { MatchedPoints, type DevicesChanged } from './matchedPoints.js';
import { PointsService } from './points.service.js';
import { PointEntity } from '../book/point.entity.js';
import { type EntityManager, In, IsNull, Not } from 'typeorm';
import { DeviceEntity } from '../book/device.entity.js';

/** Devices and their points, as the person fitting them sees them. */
@Injectable()
export class DevicesService {
  constructor(
    private readonly book: DeviceBook,
    private readonly links: LinksService,
    private readonly matched: MatchedPoints,
    private readonly health: AcquisitionHealth,
    private readonly corrections: CorrectionBook,
    private readonly installation: InstallationBook,
    private readonly live: LiveReadings,
    private readonly pointsOf: PointsService,
    private readonly fittings: FittingsBook,
    private readonly changes: ChangeFeed,
    private readonly resting: Dependents,
  ) {}

  async devices(): Promise<Device[]> {
    const points = this.book.allPoints();
    return (await this.book.presentDevices()).map(({ id, linkId, mapId, name, unit, topic, version }) => ({
      id,
      version,
      linkId,
      mapId,
      name,
      unit,
      topic,
      health: this.health.ofDevice(id),
      pointIds: points.filter((p) => p.deviceId === id).map((p) => p.id),
      stuck: points.filter((p) => p.deviceId === id).flatMap((p) => this.stuckValue(p)),
    }));
  }

  private stuckValue({ id: pointId, definition, phase }: KnownPoint): StuckValue[] {
    const standing = this.live.standing(pointId);
    const value = this.live.get(pointId)?.v ?? null;
    if (standing === null || value === null) return [];
    const { quantity, name } = definition;
    if (!isStuck({ quantity, phase }, value, stepOf(definition, value), standing.forMs)) return [];
    return [{ pointId, name, value, unit: quantityInfo(quantity).unit, since: standing.since }];
  }

  /** Makes a device. One that goes on from another that was removed is that one again: its values, their places and readings. */
  async createDevice({ goesOnFrom, ...input }: NewDevice): Promise<{ id: number }> {
    if (goesOnFrom) return this.fitAgain(goesOnFrom, input);
    await this.checkDevice(input, null);
    return this.changed(async (tables) => {
      const { id } = await tables.save(DeviceEntity, { ...input, version: 1, removedAt: null });
      return { result: { id }, deviceIds: [id] };
    });
  }

  /**
   * Makes several devices like one, on its link or at addresses of their own: all of them, or none when one cannot
   * be. `linkIds` are the links that were made for it.
   */
  async createBatch({ likeId, members }: DeviceBatch): Promise<{ ids: number[]; linkIds: number[] }> {
    const like = await this.book.devices.findOneBy({ id: likeId });
    if (!like) throw notFound('device', likeId);
    const link = await this.book.links.findOneByOrFail({ id: like.linkId });
    const places = new Set<string>();
    for (const [i, { name, unit, topic, address }] of members.entries()) {
      const field = `members.${i}.${address ? 'address' : 'unit'}`;
      if (address && !hasAddresses(link.kind))
        throw invalidField(field, `“${link.name}” is not an address on a network.`);
      const on = address ? await this.links.at(link, address) : link;
      try {
        // A link that is yet to be made has nothing on it with which this one could clash.
        if (on) await this.checkDevice({ linkId: on.id, mapId: like.mapId, name, unit, topic }, null);
      } catch (error) {
        if (error instanceof Problem) throw invalidField(field, `${name}: ${error.detail}`);
        throw error;
      }
      const place = JSON.stringify([on?.id ?? address, unit, topic]);
      if (places.has(place))
        throw invalidField(field, `${name}: its unit id, topic or address stands twice.`);
      places.add(place);
    }
    const linkIds: number[] = [];
    const inputs: DeviceInput[] = [];
    for (const { name, unit, topic, address } of members) {
      const on = address ? await this.links.another(link.id, address) : { id: link.id, made: false };
      if (on.made) linkIds.push(on.id);
      inputs.push({ linkId: on.id, mapId: like.mapId, name, unit, topic });
    }
    const phases = await this.book.pointRows.findBy({ deviceId: likeId });
    const ids = await this.changed(async (tables) => {
      const saved = await tables.save(
        DeviceEntity,
        inputs.map((input) => ({ ...input, version: 1, removedAt: null })),
      );
      const made = saved.map((d) => d.id);
      return { result: made, deviceIds: made };
    });
    for (const id of ids) await this.takePhases(id, phases);
    await this.afterPointsChange();
    return { ids, linkIds };
  }

  /**
   * Removes several devices at once, and has nothing asked any more over the links that were made for them. What
   * was read stays, and with it the links over which it came. A link that others have come to use goes on.
   */
  async takeBackBatch({ ids, linkIds }: BatchTakenBack): Promise<void> {
    const known = await this.book.devices.countBy({ id: In(ids) });
    if (known < new Set(ids).size) throw invalidField('ids', 'One of the devices is not there.');
    const others = (await this.book.presentDevices()).filter((d) => !ids.includes(d.id));
    const unused = linkIds.filter((id) => !others.some((d) => d.linkId === id));
    const pointIds = this.pointIdsOf(ids);
    // The links first: whoever sees the devices gone sees their links switched off.
    await this.book.links.update({ id: In(unused) }, { enabled: false });
    await this.book.devices.update({ id: In(ids) }, { removedAt: Date.now() });
    await this.book.reload();
    this.changes.say('links', 'devices', 'register-maps', 'installation');
    this.live.forget(pointIds);
  }

  /**
   * Has other devices take over the map of one, and what was said of its conductors.
   * @returns what they had before, for {@link giveBackSettings}
   */
  async copySettings(id: number, deviceIds: number[]): Promise<DeviceSettings> {
    const from = await this.book.devices.findOneBy({ id });
    if (!from) throw notFound('device', id);
    const others = await this.book.devices.findBy({ id: In(deviceIds.filter((other) => other !== id)) });
    const rows = await this.book.pointRows.findBy({
      deviceId: In(others.map((d) => d.id)),
      removedAt: IsNull(),
    });
    const before = {
      devices: others.map((d) => ({ id: d.id, mapId: d.mapId })),
      points: rows.map(({ id: pointId, nodeId, phase }) => ({ id: pointId, nodeId, phase })),
    };
    await this.changeMaps(others.map((other) => ({ ...other, mapId: from.mapId })));
    const phases = await this.book.pointRows.findBy({ deviceId: id });
    for (const other of others) await this.takePhases(other.id, phases);
    await this.afterPointsChange();
    return before;
  }

  /** Gives devices their maps back, and their values the places that these had. */
  async giveBackSettings({ devices, points }: DeviceSettings): Promise<void> {
    const mapOf = new Map(devices.map((d) => [d.id, d.mapId]));
    const own = await this.book.devices.findBy({ id: In([...mapOf.keys()]) });
    if (own.length < mapOf.size) throw invalidField('devices', 'One of the devices is not there.');
    for (const { nodeId } of points) this.pointsOf.refuseUnknownPlace(nodeId);
    await this.changeMaps(own.map((d) => ({ ...d, mapId: mapOf.get(d.id) as number })));
    await this.afterPointsChange();
    // A value that its map has lost in the meantime has no place to be given back.
    await this.pointsOf.assignEach(
      points.filter(({ id }) => mapOf.has(this.book.point(id)?.deviceId ?? NaN)),
    );
  }

  /** Gives devices other maps, all or none. */
  private async changeMaps(devices: readonly DeviceEntity[]): Promise<void> {
    const places = new Map<string, string>();
    for (const { linkId, name, unit, topic, mapId, id } of devices) {
      await this.checkDevice({ linkId, name, unit, topic, mapId }, id);
      // Of one unit two devices may read different maps, and not the same one.
      const place = JSON.stringify([linkId, unit, topic, mapId]);
      const twin = places.get(place);
      if (twin !== undefined)
        throw invalidField(
          'deviceIds',
          `“${twin}” and “${name}” are the same unit: both would read the same.`,
        );
      places.set(place, name);
    }
    await this.changed(async (tables) => {
      for (const { id, mapId } of devices)
        await changeVersioned(tables, DeviceEntity, { id }, { mapId } as DeviceInput, { what: 'device' });
      return { result: null, deviceIds: devices.map((d) => d.id) };
    });
  }

  private async takePhases(deviceId: number, like: readonly PointEntity[]): Promise<void> {
    for (const { key, phase } of like)
      if (phase !== null) await this.book.pointRows.update({ deviceId, key }, { phase });
  }

  private async afterPointsChange(): Promise<void> {
    await this.book.reload();
    this.changes.say('devices', 'register-maps', 'installation');
  }

  async updateDevice(id: number, input: DeviceInput): Promise<{ id: number }> {
    if (!(await this.book.devices.existsBy({ id, removedAt: IsNull() }))) throw notFound('device', id);
    await this.checkDevice(input, id);
    return this.changed(async (tables) => {
      const where = { id, removedAt: IsNull() };
      await changeVersioned(tables, DeviceEntity, where, input, { what: 'device' });
      return { result: { id }, deviceIds: [id] };
    });
  }

  private async fitAgain(id: number, input: DeviceInput): Promise<{ id: number }> {
    const before = await this.book.devices.findOneBy({ id, removedAt: Not(IsNull()) });
    if (!before) throw invalidField('goesOnFrom', 'That device has not been removed.');
    await this.checkDevice(input, id);
    const { version: _, ...sent } = input;
    return this.changed(async (tables) => {
      await changeVersioned(tables, DeviceEntity, { id }, sent as DeviceInput, {
        what: 'device',
        more: { removedAt: null },
      });
      return { result: { id }, deviceIds: [id] };
    });
  }

  /** What would no longer work without a device. */
  dependents(id: number): Dependent[] {
    return this.resting.of(this.pointIdsOf([id]));
  }

  /** Takes a device off the site. @param anyway although something depends on it */
  async remove(id: number, anyway: boolean): Promise<void> {
    const resting = anyway ? [] : this.dependents(id);
    if (resting.length > 0) throw new RestsOnIt(resting);
    await this.setRemoved(id, Date.now());
  }

  /** Takes a device off the site or, with `removedAt` null, puts it back. Its readings stay either way. */
  async setRemoved(id: number, removedAt: number | null): Promise<void> {
    const device = await this.book.devices.findOneBy({ id });
    if (!device) throw notFound('device', id);
    // Its place on the wire may be another's by now.
    if (removedAt === null && device.removedAt !== null) await this.checkDevice(device, id);
    const pointIds = this.pointIdsOf([id]);
    await this.changed(async (tables) => {
      await tables.update(DeviceEntity, id, { removedAt });
      return { result: null, deviceIds: [id] };
    });
    // Only now: from here on nothing of it is taken in any more, not even a request that was under way.
    const places = pointIds.flatMap((pointId) => this.book.pointEver(pointId)?.nodeId ?? []);
    const says = `${device.name} was ${removedAt === null ? 'fitted again' : 'removed'}`;
    await this.fittings.add(places, 'device', says, LOCAL_PERSON);
    if (removedAt !== null) this.live.forget(pointIds);
  }

  private pointIdsOf(deviceIds: readonly number[]): number[] {
    return this.book
      .allPoints()
      .filter((p) => p.deviceId !== null && deviceIds.includes(p.deviceId))
      .map((p) => p.id);
  }

  /** Devices that were removed and whose readings could go on, newest first. */
  async formerDevices(): Promise<FormerDevice[]> {
    const gone = await this.book.devices.find({
      where: { removedAt: Not(IsNull()) },
      order: { removedAt: 'DESC' },
    });
    const points = this.book.formerPoints();
    return gone.map(({ id, linkId, mapId, name, unit, topic, removedAt }) => {
      const places = points.filter((p) => p.deviceId === id).map((p) => p.nodeId);
      const circuits = [...new Set(places)].flatMap((n) =>
        n === null ? [] : (this.installation.node(n)?.name ?? []),
      );
      return { id, linkId, mapId, name, unit, topic, removedAt: removedAt as number, circuits };
    });
  }

  private async checkDevice(input: DeviceInput, id: number | null): Promise<void> {
    const link = await this.book.links.findOneBy({ id: input.linkId });
    if (!link) throw invalidField('linkId', 'Choose a link.');
    const map = await this.book.maps.findOneBy({ id: input.mapId });
    if (!map) throw invalidField('mapId', 'Choose a map.');
    const byMessages = !isModbusKind(link.kind);
    if (byMessages ? map.points.length > 0 : map.messages.length > 0)
      throw invalidField(
        'mapId',
        byMessages
          ? `“${map.name}” describes registers, and “${link.name}” carries messages.`
          : `“${map.name}” describes messages, and “${link.name}” reads registers.`,
      );
    const same = (await this.book.presentDevices()).find(
      (d) =>
        d.linkId === input.linkId &&
        d.mapId === input.mapId &&
        d.id !== id &&
        (byMessages ? d.topic === input.topic : d.unit === input.unit),
    );
    if (same)
      throw invalidField(
        byMessages ? 'topic' : 'unit',
        byMessages
          ? `“${same.name}” already reads this topic with this map.`
          : `“${same.name}” already reads unit ${input.unit} on this link with this map.`,
      );
  }

  private async changed<T>(work: (tables: EntityManager) => Promise<DevicesChanged<T>>): Promise<T> {
    const result = await this.matched.change(work);
    this.changes.say('devices', 'register-maps', 'installation');
    return result;
  }
}
