import type { FastLook, FastLookInput, FastLooksSeen, FastLookTrace } from '@loka/contract/fastLook';
import { isRegister } from '@loka/core/definitions';
import { isReadable } from '@loka/core/points';
import type { Quantity } from '@loka/core/quantities';
import { Injectable, OnModuleDestroy } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Repository } from 'typeorm';
import { AcquisitionService } from '../acquisition/acquisition.service.js';
import { ModbusRunner } from '../acquisition/modbus/modbusRunner.js';
import type { RawReading } from '../acquisition/runner.js';
import { DeviceBook, type KnownPoint } from '../book/deviceBook.js';
import { InstallationBook } from '../book/installationBook.js';
import { powerPointsOf } from '../book/nodePoints.js';
import { EventWriter } from '../database/eventWriter.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { notFound, Problem } from '../problem/errors.js';
import { LineBook } from '../series/lineBook.js';
import { FastLookEntity } from './fastLook.entity.js';

const LOOKED_AT: Quantity[] = ['current', 'active-power', 'voltage'];
const LISTED = 30;
/** More values of a point than a look of the longest time has at the fastest device. */
const MOST = 20_000;
const TROUBLE_LETTERS = 400;

interface Running {
  look: FastLook;
  linkId: number;
  stop: AbortController;
  done: Promise<void>;
}

/** For some seconds one device is polled as fast as it answers: to see a motor start. */
@Injectable()
export class FastLooksService implements OnModuleDestroy {
  /** One a link. */
  private readonly running = new Map<number, Running>();

  constructor(
    @InjectRepository(FastLookEntity) private readonly rows: Repository<FastLookEntity>,
    private readonly tree: InstallationBook,
    private readonly book: DeviceBook,
    private readonly acquisition: AcquisitionService,
    private readonly lines: LineBook,
    private readonly writer: EventWriter,
    private readonly changes: ChangeFeed,
  ) {}

  async onModuleDestroy(): Promise<void> {
    for (const { stop } of this.running.values()) stop.abort();
    await Promise.all([...this.running.values()].map(({ done }) => done));
  }

  async of(nodeId: number): Promise<FastLooksSeen> {
    const look = [...this.running.values()].find((r) => r.look.nodeId === nodeId)?.look ?? null;
    const kept = await this.rows.find({
      where: { nodeId },
      order: { startedAt: 'DESC' },
      take: LISTED,
      select: {
        id: true,
        nodeId: true,
        deviceName: true,
        startedAt: true,
        endedAt: true,
        who: true,
        trouble: true,
      },
    });
    const running = look && { ...look, traces: shownLive(look.traces) };
    return { running, kept: kept.map(({ traces: _, ...rest }) => rest) };
  }

  async one(id: number): Promise<FastLook> {
    const row = await this.rows.findOneBy({ id });
    if (!row) throw notFound('fast look', id);
    return row;
  }

  async remove(id: number): Promise<void> {
    const { affected } = await this.rows.delete(id);
    if (!affected) throw notFound('fast look', id);
    this.changes.say('fast-looks');
  }

  /** Begins one; it ends by itself, is kept, and is told of while it runs. @throws Problem */
  start({ nodeId, seconds }: FastLookInput, who: string): FastLook {
    if (!this.tree.node(nodeId)) throw notFound('place in the installation', nodeId);
    const points = this.pointsOf(nodeId);
    const [first] = points;
    if (!first || first.linkId === null)
      throw new Problem('nothing-measured', 'Nothing measures this place that could be asked faster.');
    const runner = this.acquisition.runnerOf(first);
    if (!runner) throw new Problem('link-off', 'The link of this device is switched off.');
    if (!(runner instanceof ModbusRunner) || !isRegister(first.definition))
      throw new Problem(
        'reports-by-itself',
        `“${first.deviceName}” reports by itself, every ${first.definition.intervalMs / 1000} s or so; it cannot be asked faster.`,
      );
    if (this.running.has(first.linkId))
      throw new Problem('look-under-way', 'A fast look is under way on this link. Wait for its end.');
    const startedAt = Date.now();
    const began = performance.now();
    const traces = points.map((p): FastLookTrace & { t: number[]; v: (number | null)[] } => ({
      pointId: p.id,
      name: p.definition.name,
      quantity: p.definition.quantity,
      phase: p.phase,
      t: [],
      v: [],
    }));
    const look: FastLook = {
      id: null,
      nodeId,
      deviceName: first.deviceName,
      startedAt,
      endedAt: startedAt + seconds * 1000,
      who,
      traces,
      trouble: null,
    };
    const take = (readings: RawReading[], at: number) => {
      const raw = new Map(readings.map((r) => [r.pointId, r.raw]));
      for (const trace of traces) {
        const value = raw.get(trace.pointId);
        if (value === undefined || trace.t.length >= MOST) continue;
        trace.t.push(Math.round((at - began) * 10) / 10);
        trace.v.push(
          value === null
            ? null
            : rounded(this.lines.correct(trace.pointId, startedAt, value, (id) => raw.get(id) ?? null)),
        );
      }
    };
    const stop = new AbortController();
    const done = runner
      .lookFast(points, began + seconds * 1000, stop.signal, take)
      .catch((error: Error) => {
        look.trouble = error.message.slice(0, TROUBLE_LETTERS);
      })
      .then(() => this.keep(look, first.linkId as number));
    this.running.set(first.linkId, { look, linkId: first.linkId, stop, done });
    this.changes.say('fast-looks');
    return look;
  }

  /** Ends the one at a place before its time; what was seen is kept. */
  stop(nodeId: number): void {
    const running = [...this.running.values()].find((r) => r.look.nodeId === nodeId);
    if (!running) throw new Problem('no-look', 'No fast look is under way here.');
    running.stop.abort();
  }

  private async keep(look: FastLook, linkId: number): Promise<void> {
    look.endedAt = Date.now();
    if (look.traces.some((trace) => trace.t.length > 0)) {
      const { id: _, ...row } = look;
      // It cannot be looked at again: while the database is away it waits on disk.
      this.writer.write({ what: `a fast look at ${look.deviceName}`, table: 'fast_looks', how: 'add', row });
      await this.writer.idle();
    }
    // Only now: who asks in between finds it in one place or the other.
    this.running.delete(linkId);
    this.changes.say('fast-looks');
  }

  /** Currents, powers and voltages at a place, of the device from which its power comes, or else its current. */
  private pointsOf(nodeId: number): KnownPoint[] {
    const own = this.book
      .allPoints()
      .filter(
        (p) =>
          p.nodeId === nodeId &&
          p.deviceId !== null &&
          isReadable(p.definition) &&
          LOOKED_AT.includes(p.definition.quantity) &&
          p.phase !== 'DC',
      );
    const measured = powerPointsOf(own)[0] ?? own.find((p) => p.definition.quantity === 'current');
    return measured ? own.filter((p) => p.deviceId === measured.deviceId) : [];
  }
}

/** As much as can be read off; a look of a minute is sent many times. */
const rounded = (value: number): number => Number(value.toPrecision(5));

/** What is drawn while it runs: currents, or powers where there are none. */
function shownLive(traces: FastLookTrace[]): FastLookTrace[] {
  const currents = traces.filter((t) => t.quantity === 'current');
  return currents.length > 0 ? currents : traces.filter((t) => t.quantity === 'active-power');
}
