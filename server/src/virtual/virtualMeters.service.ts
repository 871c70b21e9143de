import type { VirtualMeter, VirtualMeterInput } from '@loka/contract/virtual';
import { cycleThrough, FormulaError, namesIn, NOMINAL, parseFormula, unitFault } from '@loka/core/virtual';
import { isFormula } from '@loka/core/definitions';
import { Injectable } from '@nestjs/common';
import { StandingAlerts, type Standing } from '../alerts/standing.js';
import { Dependents } from '../book/dependents.js';
import { DeviceBook } from '../book/deviceBook.js';
import { InstallationBook } from '../book/installationBook.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { LiveReadings } from '../live/liveReadings.js';
import { PointEntity } from '../book/point.entity.js';
import { VirtualMeterEntity } from '../book/virtualMeter.entity.js';
import { changeVersioned } from '../book/versioned.js';
import { invalidField, notFound, Problem } from '../problem/errors.js';
import { Journal } from '../series/journal.js';
import { RebuildsService } from '../series/rebuilds.service.js';
import { SampleStore } from '../series/sampleStore.js';
import { DerivingMeters } from './derivingMeters.js';

/** Virtual meters: formulas over points, with a place on the tree like any other. */
@Injectable()
export class VirtualMetersService {
  constructor(
    private readonly book: DeviceBook,
    private readonly tree: InstallationBook,
    private readonly meters: DerivingMeters,
    private readonly store: SampleStore,
    private readonly journal: Journal,
    private readonly rebuilds: RebuildsService,
    private readonly live: LiveReadings,
    private readonly changes: ChangeFeed,
    dependents: Dependents,
    standing: StandingAlerts,
  ) {
    dependents.add((ids) =>
      this.list()
        .filter((m) => m.inputs.some((i) => ids.has(i.pointId)))
        .map(({ pointId, name }) => ({
          kind: 'virtual meter',
          id: pointId,
          name,
          does: 'it can no longer be computed',
        })),
    );
    standing.add(() => this.incomplete());
  }

  /** Meters of which an input is no longer there. */
  private incomplete(): Standing[] {
    return this.list().flatMap(({ pointId, name, inputs }): Standing[] => {
      const gone = inputs.filter((i) => !this.book.point(i.pointId)).map((i) => `“${i.name}”`);
      if (gone.length === 0) return [];
      const condition = `Cannot be computed: ${gone.join(' and ')} ${gone.length === 1 ? 'is' : 'are'} no longer there`;
      return [{ source: `virtual meter ${pointId}`, kind: 'missing', name, condition, pointId }];
    });
  }

  list(): VirtualMeter[] {
    return this.book.allPoints().flatMap(({ id, definition, nodeId, phase }) => {
      if (!isFormula(definition)) return [];
      const { name, formula, inputs, quantity, intervalMs, askedMs } = definition;
      return [
        {
          pointId: id,
          name,
          formula,
          inputs,
          quantity,
          intervalMs: askedMs ?? intervalMs,
          nodeId,
          phase,
          version: this.book.versionOfMeter(id),
        },
      ];
    });
  }

  async create(input: VirtualMeterInput): Promise<VirtualMeter> {
    this.check(input, null);
    const { nodeId, phase, ...meter } = input;
    const point = await this.book.pointRows.save({
      deviceId: null,
      key: 'virtual',
      nodeId: nodeId ?? null,
      phase: phase ?? null,
      removedAt: null,
    });
    await this.book.virtualMeters.insert({ pointId: point.id, ...meter, version: 1 });
    return this.after(point.id);
  }

  async update(pointId: number, input: VirtualMeterInput): Promise<VirtualMeter> {
    this.mustExist(pointId);
    this.check(input, pointId);
    const { nodeId, phase, ...meter } = input;
    await this.book.pointRows.manager.transaction(async (tables) => {
      await changeVersioned(tables, VirtualMeterEntity, { pointId }, meter, { what: 'virtual meter' });
      await tables.update(PointEntity, pointId, { nodeId: nodeId ?? null, phase: phase ?? null });
    });
    return this.after(pointId);
  }

  /** Takes a virtual meter off, or puts it back; its readings stay. */
  async setRemoved(pointId: number, removedAt: number | null): Promise<void> {
    if (!(await this.book.virtualMeters.existsBy({ pointId }))) throw notFound('virtual meter', pointId);
    const user = this.list().find((m) => m.inputs.some((i) => i.pointId === pointId));
    if (removedAt !== null && user)
      throw new Problem('in-use', `“${user.name}” is computed with it. Change that one first.`);
    await this.book.pointRows.update(pointId, { removedAt });
    await this.book.reload();
    if (removedAt !== null) this.live.forget([pointId]);
    this.changes.say('virtual-meters', 'devices', 'installation');
  }

  private async after(pointId: number): Promise<VirtualMeter> {
    await this.book.reload();
    this.changes.say('virtual-meters', 'devices', 'installation');
    await this.computePast(pointId);
    return this.mustExist(pointId);
  }

  /** Has a virtual meter, and those that depend on it, computed over everything that its inputs have recorded. */
  private async computePast(pointId: number): Promise<void> {
    await this.store.flush();
    const begin = await this.meters.beginOf(
      pointId,
      async (id) => (await this.journal.extent(id))?.first ?? null,
    );
    // What it has of another formula goes, wherever the new one has no inputs.
    const had = await this.journal.extent(pointId);
    const from = Math.min(begin ?? Infinity, had?.first ?? Infinity);
    if (!Number.isFinite(from)) return;
    const plan = await this.rebuilds.plan(this.book.pointRows.manager, [pointId], from, { own: true });
    const { name } = this.mustExist(pointId);
    void this.rebuilds.run(`${name} from recorded readings`, plan);
  }

  private mustExist(pointId: number): VirtualMeter {
    const meter = this.list().find((m) => m.pointId === pointId);
    if (!meter) throw notFound('virtual meter', pointId);
    return meter;
  }

  private check(input: VirtualMeterInput, pointId: number | null): void {
    const { inputs, quantity, formula, nodeId, name } = input;
    if (this.list().some((m) => m.name === name && m.pointId !== pointId))
      throw invalidField('name', `There is a virtual meter “${name}” already.`);
    if (nodeId !== null && nodeId !== undefined && !this.tree.node(nodeId))
      throw invalidField('nodeId', 'That circuit is no longer there.');
    const quantities = new Map(
      inputs.map((i) => {
        const point = this.book.point(i.pointId);
        if (!point) throw invalidField('inputs', `The point of “${i.name}” is no longer there.`);
        return [i.name, point.definition.quantity];
      }),
    );
    if (quantities.size < inputs.length)
      throw invalidField('inputs', 'Each input has a short name of its own.');
    if (quantities.has(NOMINAL))
      throw invalidField(
        'inputs',
        `“${NOMINAL}” stands for the site’s nominal voltage; choose another short name.`,
      );
    try {
      const expression = parseFormula(formula);
      const fault = unitFault(expression, quantities, quantity);
      if (fault) throw invalidField('formula', fault);
      if (namesIn(expression).every((n) => n === NOMINAL))
        throw invalidField('formula', 'It uses none of its inputs.');
    } catch (error) {
      if (error instanceof FormulaError) throw invalidField('formula', error.message);
      throw error;
    }
    this.refuseCycle(input, pointId);
  }

  private refuseCycle({ inputs }: VirtualMeterInput, pointId: number | null): void {
    if (pointId === null) return;
    const inputsOf = (id: number) => {
      const definition = this.book.point(id)?.definition;
      return definition && isFormula(definition) ? definition.inputs.map((i) => i.pointId) : [];
    };
    const way = cycleThrough(
      pointId,
      inputs.map((i) => i.pointId),
      inputsOf,
    );
    if (!way) return;
    const names = way.map((id) => `“${this.book.point(id)?.definition.name ?? id}”`);
    throw invalidField('inputs', `It would be computed from itself: ${names.join(' needs ')}.`);
  }
}
