import { quantityInfo } from '@loka/core/quantities';
import { Injectable, OnModuleInit } from '@nestjs/common';
import { type EntityManager, In, IsNull } from 'typeorm';
import type { AnyDefinition } from '@loka/core/definitions';
import { definitionsOf, DeviceBook } from '../book/deviceBook.js';
import { DeviceEntity } from '../book/device.entity.js';
import { PointEntity, PointIntervalEntity } from '../book/point.entity.js';
import { RegisterMapEntity } from '../book/registerMap.entity.js';
import { RebuildsService } from '../series/rebuilds.service.js';

/** Counters are counted, and everything else is drawn as it stands. */
export const kindOf = ({ quantity }: AnyDefinition) => quantityInfo(quantity).kind;

/** What has been changed, and of which devices the points may be others now. */
export interface DevicesChanged<T> {
  result: T;
  deviceIds: readonly number[];
}

/**
 * Has the points of devices agree with their maps. What turned out to be a counter was not counted yet, and a counter is
 * no flow: the past of such a point is recalculated, and that is planned in the transaction that changes the map, so
 * that a stop at any moment leaves either both or none.
 */
@Injectable()
export class MatchedPoints implements OnModuleInit {
  constructor(
    private readonly book: DeviceBook,
    private readonly rebuilds: RebuildsService,
  ) {}

  /** Points of a Loka that did not note kinds yet are worked out as what they are today. */
  async onModuleInit(): Promise<void> {
    const unknown = await this.book.pointRows.findBy({ kind: IsNull(), removedAt: IsNull() });
    for (const { id, deviceId } of unknown) {
      const definition = deviceId === null ? undefined : this.book.point(id)?.definition;
      if (definition) await this.book.pointRows.update(id, { kind: kindOf(definition) });
    }
  }

  /** Changes devices or their maps, and with them the points, all or none; the rest of the server hears of it. */
  async change<T>(work: (tables: EntityManager) => Promise<DevicesChanged<T>>): Promise<T> {
    const { result, plan } = await this.book.pointRows.manager.transaction(async (tables) => {
      const done = await work(tables);
      const turned: number[] = [];
      for (const id of done.deviceIds) turned.push(...(await this.match(tables, id)));
      return { result: done.result, plan: await this.rebuilds.plan(tables, turned, 0, { own: true }) };
    });
    await this.book.reload();
    if (plan.length > 0) void this.rebuilds.run('Recorded readings as their map describes them now', plan);
    return result;
  }

  /**
   * New points appear, missing ones are put away, changed intervals are noted.
   * @returns points whose past has been worked out as another kind
   */
  private async match(tables: EntityManager, deviceId: number): Promise<number[]> {
    const device = await tables.findOneByOrFail(DeviceEntity, { id: deviceId });
    const map = await tables.findOneByOrFail(RegisterMapEntity, { id: device.mapId });
    const definitions = new Map(definitionsOf(map).map((d) => [d.key, d]));
    const rows = await tables.findBy(PointEntity, { deviceId });
    const now = Date.now();
    const turned: number[] = [];
    for (const { id, key, removedAt, kind } of rows) {
      const definition = definitions.get(key);
      if ((definition !== undefined) !== (removedAt === null))
        await tables.update(PointEntity, id, {
          removedAt: definition ? null : now,
          lastDefinition: definition ? null : (this.book.point(id)?.definition ?? null),
        });
      if (!definition || kind === kindOf(definition)) continue;
      await tables.update(PointEntity, id, { kind: kindOf(definition) });
      turned.push(id);
    }
    const fresh = [...definitions.values()].filter((d) => !rows.some((row) => row.key === d.key));
    await tables.insert(
      PointEntity,
      fresh.map((d) => ({
        deviceId,
        key: d.key,
        nodeId: null,
        phase: null,
        removedAt: null,
        kind: kindOf(d),
      })),
    );
    await this.noteIntervals(tables, deviceId, definitions, now);
    return turned;
  }

  private async noteIntervals(
    tables: EntityManager,
    deviceId: number,
    definitions: ReadonlyMap<string, AnyDefinition>,
    now: number,
  ): Promise<void> {
    const rows = await tables.findBy(PointEntity, { deviceId, removedAt: IsNull() });
    const known = await tables.find(PointIntervalEntity, {
      where: { pointId: In(rows.map((r) => r.id)) },
      order: { validFrom: 'ASC' },
    });
    for (const row of rows) {
      const intervalMs = definitions.get(row.key)?.intervalMs;
      const last = known.filter((k) => k.pointId === row.id).at(-1);
      if (intervalMs !== undefined && last?.intervalMs !== intervalMs)
        await tables.save(PointIntervalEntity, { pointId: row.id, validFrom: now, intervalMs });
    }
  }
}
