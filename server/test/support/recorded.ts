import type { NodeEnergy } from '@loka/contract/energy';
import type { Point } from '@loka/contract/points';
import type { PointDefinition } from '@loka/core/registers';
import type { Sample } from '@loka/core/series';
import { IntervalBook } from '../../src/series/intervalBook.js';
import { RollupWorker } from '../../src/series/rollupWorker.js';
import { SampleStore } from '../../src/series/sampleStore.js';
import { type Loka, until } from './loka.js';
import { makeMap, nameSite } from './point.js';

export const MINUTE = 60_000;
export const HOUR = 60 * MINUTE;
export const DAY = 24 * HOUR;

/** A site with a device that nobody polls: what is read of it comes from the test. */
export class Recorded {
  private constructor(
    readonly loka: Loka,
    readonly supply: number,
    readonly place: number,
    private readonly points: Point[],
  ) {}

  /**
   * @param intervalMs at which it was recorded, ever
   * @param enabled whether its link is switched on; only in a Loka that does not poll
   */
  static async make(
    loka: Loka,
    points: PointDefinition[],
    intervalMs = MINUTE,
    enabled = false,
  ): Promise<Recorded> {
    await nameSite(loka);
    const node = async (kind: string, parentId: number | null, ratedCurrent: number) =>
      (
        await loka.ask<{ id: number }>('/installation', 'POST', {
          kind,
          parentId,
          name: kind,
          way: '',
          phases: 'L1 L2 L3',
          protectiveDevice: null,
          ratedCurrent,
        })
      ).id;
    const supply = await node('supply', null, 63);
    const board = await node('board', supply, 63);
    const place = await node('circuit', board, 63);
    const { id: linkId } = await loka.ask<{ id: number }>('/links', 'POST', {
      name: 'Nobody',
      host: '127.0.0.1',
      port: 1502,
      timeoutMs: 1000,
      enabled,
    });
    const mapId = await makeMap(loka, 'Recorded', { points });
    const { id } = await loka.ask<{ id: number }>('/devices', 'POST', {
      linkId,
      mapId,
      name: 'Meter',
      unit: 1,
    });
    await loka.ask(`/devices/${id}/assignment`, 'PUT', { nodeId: place });
    const made = (await loka.ask<Point[]>('/points')).filter((p) => p.deviceId === id);
    for (const point of made)
      await loka.sql.query('REPLACE INTO point_intervals VALUES (?, 0, ?)', [point.id, intervalMs]);
    await loka.app.get(IntervalBook).reload();
    return new Recorded(loka, supply, place, made);
  }

  /** The same site in a Loka that has been restarted. */
  on(loka: Loka): Recorded {
    return new Recorded(loka, this.supply, this.place, this.points);
  }

  id(key: string): number {
    const point = this.points.find((p) => p.key === key);
    if (!point) throw new Error(`no point ${key}`);
    return point.id;
  }

  /** Stores samples of a point, as if they had just been read. */
  async store(key: string, samples: readonly Sample[]): Promise<void> {
    const store = this.loka.app.get(SampleStore);
    store.append(samples.map((s) => ({ pointId: this.id(key), ...s })));
    // A database that is busy for a moment has them on the spool first.
    await until('the samples are in the database', async () => {
      await store.flush();
      const { waiting, spool } = store.status();
      return waiting + spool.samples === 0;
    });
  }

  /** Readings once a minute from an instant on; null leaves one out. */
  minutely(
    key: string,
    start: number,
    count: number,
    value: (minute: number) => number | null,
  ): Promise<void> {
    const samples = Array.from({ length: count }, (_, i) => ({ t: start + i * MINUTE, v: value(i), q: 0 }));
    return this.store(
      key,
      samples.filter((s) => s.v !== null),
    );
  }

  rollUp(): Promise<void> {
    return this.loka.app.get(RollupWorker).work();
  }

  async energy(from: number, to: number, nodeId = this.place): Promise<NodeEnergy> {
    const all = await this.loka.ask<NodeEnergy[]>(`/energy?from=${from}&to=${to}`);
    return all.find((e) => e.nodeId === nodeId) as NodeEnergy;
  }
}

/** A circuit that nothing measures, and the board on which it hangs. */
export async function spareCircuit(loka: Loka): Promise<{ spare: number; board: number }> {
  const nodes = await loka.ask<{ id: number; kind: string }[]>('/installation');
  const board = nodes.find((n) => n.kind === 'board')?.id as number;
  const { id } = await loka.ask<{ id: number }>('/installation', 'POST', {
    kind: 'circuit',
    parentId: board,
    name: 'Spare',
    way: '9',
    phases: 'L1',
    protectiveDevice: null,
    ratedCurrent: 10,
  });
  return { spare: id, board };
}
