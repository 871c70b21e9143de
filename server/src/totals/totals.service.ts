import type { ClearTotalInput, Clearing, RunningTotal, TotalKind } from '@loka/contract/totals';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Repository } from 'typeorm';
import { DeviceBook } from '../book/deviceBook.js';
import { InstallationBook } from '../book/installationBook.js';
import { EnergyService } from '../energy/energy.service.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { invalidField, notFound } from '../problem/errors.js';
import { SlotReader } from '../series/slotReader.js';
import { ClearingEntity } from './clearing.entity.js';
import { RunningService } from './running.service.js';

const LISTED = 20;

/** What runs on until a person clears it. Nothing is changed by that but from when on it is counted. */
@Injectable()
export class TotalsService {
  constructor(
    @InjectRepository(ClearingEntity) private readonly rows: Repository<ClearingEntity>,
    private readonly tree: InstallationBook,
    private readonly book: DeviceBook,
    private readonly energy: EnergyService,
    private readonly running: RunningService,
    private readonly slots: SlotReader,
    private readonly changes: ChangeFeed,
  ) {}

  async of(nodeId: number): Promise<RunningTotal[]> {
    if (!this.tree.node(nodeId)) throw notFound('place in the installation', nodeId);
    return [await this.total(nodeId, 'energy'), await this.total(nodeId, 'run-time')];
  }

  async clear({ nodeId, kind, name }: ClearTotalInput, who: string): Promise<Clearing> {
    const node = this.tree.node(nodeId);
    if (!node) throw notFound('place in the installation', nodeId);
    if (name.trim() !== node.name)
      throw invalidField('name', `That is not its name. It is called “${node.name}”.`);
    const at = Date.now();
    const { value } = await this.total(nodeId, kind, at);
    const row = await this.rows.save({ nodeId, kind, at, who, stood: value });
    this.changes.say('totals');
    return row;
  }

  private async total(nodeId: number, kind: TotalKind, now = Date.now()): Promise<RunningTotal> {
    const clearings = await this.rows.find({
      where: { nodeId, kind },
      order: { at: 'DESC', id: 'DESC' },
      take: LISTED,
    });
    const ids = this.book
      .allPoints()
      .filter((p) => p.nodeId === nodeId)
      .map((p) => p.id);
    const since = clearings[0]?.at ?? (await this.slots.firstAt(ids));
    const base = { kind, since, clearings, starts: null, threshold: null };
    if (since === null || since >= now) return { ...base, value: since === null ? null : 0, known: 0 };
    if (kind === 'energy') {
      const [energy] = await this.energy.ofNodes(since, now, [nodeId]);
      return { ...base, value: energy?.import ?? null, known: energy?.coverage ?? 0 };
    }
    const run = await this.running.over(nodeId, since, now);
    return run
      ? { ...base, value: run.runMs, known: run.known, starts: run.starts, threshold: run.threshold }
      : { ...base, value: null, known: 0 };
  }
}
