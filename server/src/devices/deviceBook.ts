import type { Phase } from '@loka/core/quantities';
import type { PointDefinition } from '@loka/core/registers';
import { Injectable, OnModuleInit } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Subject } from 'rxjs';
import { In, IsNull, Repository } from 'typeorm';
import { RegisterMapEntity } from '../registers/registerMap.entity.js';
import { DeviceEntity } from './device.entity.js';
import { LinkEntity } from './link.entity.js';
import { PointEntity, PointIntervalEntity } from './point.entity.js';

/** A point with everything that is known of it. */
export interface KnownPoint {
  id: number;
  deviceId: number;
  deviceName: string;
  linkId: number;
  unit: number;
  key: string;
  definition: PointDefinition;
  nodeId: number | null;
  phase: Phase | null;
}

/**
 * What is connected: links, devices, and their points, kept in memory because every reading asks for it.
 * Whoever changes the tables calls {@link reload}, and the rest of the server hears of it.
 */
@Injectable()
export class DeviceBook implements OnModuleInit {
  readonly reloaded = new Subject<void>();
  private points = new Map<number, KnownPoint>();

  constructor(
    @InjectRepository(LinkEntity) readonly links: Repository<LinkEntity>,
    @InjectRepository(DeviceEntity) readonly devices: Repository<DeviceEntity>,
    @InjectRepository(PointEntity) readonly pointRows: Repository<PointEntity>,
    @InjectRepository(PointIntervalEntity) readonly intervals: Repository<PointIntervalEntity>,
    @InjectRepository(RegisterMapEntity) readonly maps: Repository<RegisterMapEntity>,
  ) {}

  onModuleInit(): Promise<void> {
    return this.reload();
  }

  point(id: number): KnownPoint | undefined {
    return this.points.get(id);
  }

  allPoints(): KnownPoint[] {
    return [...this.points.values()];
  }

  presentDevices(): Promise<DeviceEntity[]> {
    return this.devices.find({ where: { removedAt: IsNull() }, order: { id: 'ASC' } });
  }

  async reload(): Promise<void> {
    const [devices, maps, rows] = await Promise.all([
      this.presentDevices(),
      this.maps.find(),
      this.pointRows.find({ where: { removedAt: IsNull() }, order: { id: 'ASC' } }),
    ]);
    const points = new Map<number, KnownPoint>();
    for (const row of rows) {
      const device = devices.find((d) => d.id === row.deviceId);
      const definition = maps.find((m) => m.id === device?.mapId)?.points.find((p) => p.key === row.key);
      if (!device || !definition) continue;
      const { id, deviceId, key, nodeId } = row;
      points.set(id, {
        id,
        deviceId,
        key,
        nodeId,
        definition,
        deviceName: device.name,
        linkId: device.linkId,
        unit: device.unit,
        phase: row.phase ?? definition.phase,
      });
    }
    this.points = points;
    this.reloaded.next();
  }

  /** Makes a device's points agree with its map: new ones appear, missing ones are put away, changed intervals are noted. */
  async matchPoints(deviceId: number): Promise<void> {
    const device = await this.devices.findOneByOrFail({ id: deviceId });
    const map = await this.maps.findOneByOrFail({ id: device.mapId });
    const rows = await this.pointRows.findBy({ deviceId });
    const now = Date.now();
    for (const row of rows) {
      const wanted = map.points.some((p) => p.key === row.key);
      if (wanted === (row.removedAt === null)) continue;
      await this.pointRows.update(row.id, { removedAt: wanted ? null : now });
    }
    const fresh = map.points.filter((p) => !rows.some((row) => row.key === p.key));
    await this.pointRows.insert(
      fresh.map(({ key }) => ({ deviceId, key, nodeId: null, phase: null, removedAt: null })),
    );
    await this.noteIntervals(deviceId, map.points, now);
  }

  private async noteIntervals(deviceId: number, definitions: PointDefinition[], now: number): Promise<void> {
    const rows = await this.pointRows.findBy({ deviceId, removedAt: IsNull() });
    const known = await this.intervals.find({
      where: { pointId: In(rows.map((r) => r.id)) },
      order: { validFrom: 'ASC' },
    });
    for (const row of rows) {
      const intervalMs = definitions.find((d) => d.key === row.key)?.intervalMs;
      const last = known.filter((k) => k.pointId === row.id).at(-1);
      if (intervalMs !== undefined && last?.intervalMs !== intervalMs)
        await this.intervals.save({ pointId: row.id, validFrom: now, intervalMs });
    }
  }
}
