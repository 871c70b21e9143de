import { quantityInfo, type Phase } from '@loka/core/quantities';
import type { Availability } from '@loka/core/messages';
import { isFormula, type AnyDefinition } from '@loka/core/definitions';
import type { FormulaDefinition } from '@loka/core/virtual';
import { UNSCALED } from '@loka/core/points';
import { Injectable, OnModuleInit } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Subject } from 'rxjs';
import { IsNull, Repository } from 'typeorm';
import { RegisterMapEntity } from './registerMap.entity.js';
import { DeviceEntity } from './device.entity.js';
import { LinkEntity } from './link.entity.js';
import { VirtualMeterEntity } from './virtualMeter.entity.js';
import { PointEntity, PointIntervalEntity } from './point.entity.js';
import { Newest } from '../database/newest.js';

/** All values that a map describes. */
export const definitionsOf = (map: Pick<RegisterMapEntity, 'points' | 'messages'>): AnyDefinition[] => [
  ...map.points,
  ...map.messages,
];

const OF_NO_DEVICE = {
  deviceId: null,
  deviceName: 'Virtual meter',
  linkId: null,
  unit: 0,
  topic: '',
  availability: null,
} as const;

/** A virtual meter is computed as often as the slowest of its inputs is read, and no more often than asked for. */
const formulaOf = (
  { name, formula, inputs, quantity, intervalMs }: VirtualMeterEntity,
  { key, phase }: PointEntity,
): FormulaDefinition => ({
  kind: 'formula',
  key,
  name,
  formula,
  inputs,
  quantity,
  intervalMs,
  askedMs: intervalMs,
  phase,
  unit: quantityInfo(quantity).unit,
  scaling: UNSCALED,
  access: 'read',
});

const counterOf = ({
  counterModulus,
  counterResolution,
  largestPower,
}: PointEntity): KnownPoint['counter'] => ({
  modulus: counterModulus,
  resolution: counterResolution,
  largestPower,
});

/** Gives virtual meters the interval of their slowest input; those of virtual meters in as many rounds as they are deep. */
function slowToInputs(points: ReadonlyMap<number, KnownPoint>): void {
  for (let changed = true; changed;) {
    changed = false;
    for (const { definition } of points.values()) {
      if (!isFormula(definition)) continue;
      const slowest = Math.max(
        definition.intervalMs,
        ...definition.inputs.map((i) => points.get(i.pointId)?.definition.intervalMs ?? 0),
      );
      changed ||= slowest > definition.intervalMs;
      definition.intervalMs = slowest;
    }
  }
}

/** A point with everything that is known of it. */
export interface KnownPoint {
  id: number;
  /** Null for a virtual meter. */
  deviceId: number | null;
  deviceName: string;
  linkId: number | null;
  unit: number;
  /** Base topic of its device. */
  topic: string;
  key: string;
  definition: AnyDefinition;
  availability: Availability | null;
  nodeId: number | null;
  phase: Phase | null;
  /** What somebody has set for a counter; null where its register and its place tell. */
  counter: { modulus: number | null; resolution: number | null; largestPower: number | null };
}

/** A point that was removed, and when. */
export interface FormerPoint extends KnownPoint {
  removedAt: number;
}

/**
 * What is connected: links, devices, and their points, kept in memory because every reading asks for it.
 * Whoever changes the tables calls {@link reload}, and the rest of the server hears of it.
 */
@Injectable()
export class DeviceBook implements OnModuleInit {
  private readonly newest = new Newest();
  readonly reloaded = new Subject<void>();
  private points = new Map<number, KnownPoint>();
  private former = new Map<number, FormerPoint>();
  private switchedOff = new Map<number, string>();
  private meterVersions = new Map<number, number>();
  private secrets = new Map<number, string | null>();

  constructor(
    @InjectRepository(LinkEntity) readonly links: Repository<LinkEntity>,
    @InjectRepository(DeviceEntity) readonly devices: Repository<DeviceEntity>,
    @InjectRepository(PointEntity) readonly pointRows: Repository<PointEntity>,
    @InjectRepository(PointIntervalEntity) readonly intervals: Repository<PointIntervalEntity>,
    @InjectRepository(RegisterMapEntity) readonly maps: Repository<RegisterMapEntity>,
    @InjectRepository(VirtualMeterEntity) readonly virtualMeters: Repository<VirtualMeterEntity>,
  ) {}

  onModuleInit(): Promise<void> {
    return this.reload();
  }

  point(id: number): KnownPoint | undefined {
    return this.points.get(id);
  }

  /** What is wrong with a point for whoever depends on it, after “The value …”; null where it is there and read. */
  absence(id: number): string | null {
    const point = this.points.get(id);
    if (!point) return 'is no longer there: its device, its link or its map has changed';
    const link = point.linkId === null ? undefined : this.switchedOff.get(point.linkId);
    return link === undefined ? null : `is not read: its link “${link}” is switched off`;
  }

  /** Points that were removed, with their device or out of its map; what was read of them is still there. */
  formerPoints(): FormerPoint[] {
    return [...this.former.values()];
  }

  /** A point, also one that was removed. */
  pointEver(id: number): KnownPoint | undefined {
    return this.points.get(id) ?? this.former.get(id);
  }

  /** The password of a link or, of a push link, the digest of its token: its door is open while the database is away, too. */
  secretOf(linkId: number): string | null {
    return this.secrets.get(linkId) ?? null;
  }

  allPoints(): KnownPoint[] {
    return [...this.points.values()];
  }

  presentDevices(): Promise<DeviceEntity[]> {
    return this.devices.find({ where: { removedAt: IsNull() }, order: { id: 'ASC' } });
  }

  /** At which version a virtual meter is. */
  versionOfMeter(pointId: number): number {
    return this.meterVersions.get(pointId) ?? 1;
  }

  reload(): Promise<void> {
    return this.newest.take(
      () =>
        Promise.all([
          this.devices.find({ order: { id: 'ASC' } }),
          this.maps.find(),
          this.virtualMeters.find(),
          this.links.find(),
          this.pointRows.find({ order: { id: 'ASC' } }),
        ]),
      ([devices, maps, virtual, links, rows]) => {
        this.switchedOff = new Map(links.filter((l) => !l.enabled).map((l) => [l.id, l.name]));
        const former = new Map<number, FormerPoint>();
        this.meterVersions = new Map(virtual.map((v) => [v.pointId, v.version]));
        this.secrets = new Map(links.map((l) => [l.id, l.secret]));
        const points = new Map<number, KnownPoint>();
        const put = ({ id, removedAt }: PointEntity, known: KnownPoint, deviceRemovedAt: number | null) => {
          const since = deviceRemovedAt ?? removedAt;
          if (since === null) points.set(id, known);
          else former.set(id, { ...known, removedAt: since });
        };
        for (const row of rows) {
          const { id, deviceId, key, nodeId } = row;
          const meter = virtual.find((v) => v.pointId === id);
          if (meter) {
            const definition = formulaOf(meter, row);
            const known: KnownPoint = {
              ...OF_NO_DEVICE,
              id,
              key,
              nodeId,
              definition,
              phase: row.phase,
              counter: counterOf(row),
            };
            put(row, known, null);
            continue;
          }
          const device = devices.find((d) => d.id === deviceId);
          const map = maps.find((m) => m.id === device?.mapId);
          const definition =
            (map && definitionsOf(map).find((p) => p.key === key)) ?? row.lastDefinition ?? undefined;
          if (!device || !map || !definition) continue;
          const known: KnownPoint = {
            id,
            deviceId,
            key,
            nodeId,
            definition,
            availability: map.availability,
            deviceName: device.name,
            linkId: device.linkId,
            unit: device.unit,
            topic: device.topic,
            phase: row.phase ?? definition.phase,
            counter: counterOf(row),
          };
          put(row, known, device.removedAt);
        }
        slowToInputs(points);
        this.points = points;
        this.former = former;
        this.reloaded.next();
      },
    );
  }
}
