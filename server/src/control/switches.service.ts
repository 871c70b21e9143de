import type { OperationCause, Switch, SwitchInput, SwitchOperation } from '@loka/contract/control';
import { commandEnd, switchAgreement, type SwitchAgreement } from '@loka/core/control';
import { isReadable, isWritable } from '@loka/core/registers';
import { isUsable } from '@loka/core/series';
import { Injectable, OnApplicationBootstrap, OnModuleDestroy } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { randomUUID } from 'node:crypto';
import { In, IsNull, Repository } from 'typeorm';
import { StandingAlerts, type Standing } from '../alerts/standing.js';
import { AcquisitionService } from '../acquisition/acquisition.service.js';
import { EventWriter } from '../database/eventWriter.js';
import { Dependents } from '../book/dependents.js';
import { DeviceBook } from '../book/deviceBook.js';
import { InstallationBook } from '../book/installationBook.js';
import { Beat } from '../live/beat.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { LiveReadings, type ArrivedReading } from '../live/liveReadings.js';
import { changeVersioned } from '../book/versioned.js';
import { invalidField, notFound, Problem } from '../problem/errors.js';
import { SwitchEntity } from '../book/switch.entity.js';
import { CutOffRuleEntity, SwitchOperationEntity } from './control.entity.js';
import { Lockouts } from './lockouts.js';
import { SwitchBook } from '../book/switchBook.js';

/** An operation whose outcome is still open. */
interface Pending {
  row: SwitchOperationEntity;
  /** Which comes after which; 0 of one that an earlier run has sent. */
  order: number;
  /** When it was sent, of the monotonic clock; null while it is on its way to the wire. */
  sentAt: number | null;
  /** How long its outcome is waited for, ms. */
  patience: number;
}

interface SwitchState {
  wanted: boolean | null;
  commanded: boolean | null;
  commandedAt: number | null;
  /** As `commandedAt`, of the monotonic clock; that of an earlier run is long ago. */
  sentAt: number | null;
  /** The last operation that was sent. */
  lastSent: number;
  readBack: boolean | null;
  readBackAt: number | null;
  /** When the state was read, of the monotonic clock. */
  heardAt: number;
  unknownSince: number | null;
  pending: Pending | null;
}

const EMPTY: SwitchState = {
  wanted: null,
  commanded: null,
  commandedAt: null,
  sentAt: null,
  lastSent: 0,
  readBack: null,
  readBackAt: null,
  heardAt: -Infinity,
  unknownSince: null,
  pending: null,
};
const CHECK_EVERY = 200;
/** After a restart, so long is waited for a state that tells how the last command has ended. */
const AFTER_RESTART = 30_000;

export interface Command {
  closed: boolean;
  cause: OperationCause;
  who: string;
  reason: string;
}

/**
 * Operates switches. Wanted, commanded and read-back state are kept apart; every operation is recorded with its
 * cause, and its outcome is what the device reports, never what was sent. After a restart nothing is sent: the
 * last command is remembered, and a contact that stands otherwise is said to be a mismatch.
 */
@Injectable()
export class SwitchesService implements OnApplicationBootstrap, OnModuleDestroy {
  private readonly states = new Map<number, SwitchState>();
  private timer: NodeJS.Timeout | null = null;
  private orders = 0;
  private readonly beat = new Beat(CHECK_EVERY);

  constructor(
    private readonly book: SwitchBook,
    @InjectRepository(SwitchOperationEntity) private readonly operations: Repository<SwitchOperationEntity>,
    @InjectRepository(CutOffRuleEntity) private readonly rules: Repository<CutOffRuleEntity>,
    private readonly devices: DeviceBook,
    private readonly tree: InstallationBook,
    private readonly acquisition: AcquisitionService,
    private readonly live: LiveReadings,
    private readonly changes: ChangeFeed,
    private readonly writer: EventWriter,
    private readonly lockouts: Lockouts,
    standing: StandingAlerts,
    dependents: Dependents,
  ) {
    dependents.add((ids) =>
      this.book
        .all()
        .filter((s) => ids.has(s.commandPointId) || ids.has(s.statePointId))
        .map(({ id, name }) => ({ kind: 'switch', id, name, does: 'it can no longer be operated' })),
    );
    standing.add(() => this.standing());
  }

  async onApplicationBootstrap(): Promise<void> {
    for (const entity of this.book.all()) {
      const [last] = await this.operations.find({
        where: { switchId: entity.id, outcome: In(['confirmed', 'mismatch', 'waiting']) },
        order: { at: 'DESC' },
        take: 1,
      });
      const state = this.state(entity.id);
      if (!last) continue;
      state.wanted = state.commanded = last.closed;
      state.commandedAt = last.at;
      state.sentAt = -Infinity;
      // Whether it was carried out, and how, the contact will tell.
      if (last.outcome === 'waiting')
        state.pending = {
          row: last,
          order: 0,
          sentAt: performance.now(),
          patience: Math.max(AFTER_RESTART, entity.timeoutMs),
        };
    }
    this.live.stream.subscribe((readings) => this.feed(readings));
    this.timer = setInterval(() => this.check(), CHECK_EVERY);
  }

  onModuleDestroy(): void {
    if (this.timer) clearInterval(this.timer);
  }

  list(): Switch[] {
    return this.book.all().map((entity) => this.view(entity));
  }

  view(entity: SwitchEntity): Switch {
    const { wanted, commanded, commandedAt, readBack, readBackAt, unknownSince } = this.state(entity.id);
    const { id, name, nodeId, commandPointId, statePointId, timeoutMs, version } = entity;
    return {
      id,
      version,
      name,
      nodeId,
      commandPointId,
      statePointId,
      timeoutMs,
      wanted,
      commanded,
      commandedAt,
      readBack,
      readBackAt,
      agreement: this.agreementOf(entity),
      lockout: this.lockouts.reason(id),
      unknownSince: readBack === null ? unknownSince : null,
      missing: this.missingOf(entity),
    };
  }

  private agreementOf({ id, timeoutMs }: SwitchEntity): SwitchAgreement {
    const { commanded, sentAt: commandedAt, readBack } = this.state(id);
    return switchAgreement({ commanded, commandedAt, readBack }, performance.now(), timeoutMs);
  }

  /** What is no longer there of what a switch depends on, in words; null where all of it is. */
  missingOf({ commandPointId, statePointId, nodeId }: SwitchEntity): string | null {
    const command = this.devices.absence(commandPointId);
    if (command) return `The value by which it is commanded ${command}`;
    const state = this.devices.absence(statePointId);
    if (state) return `The value that reports its contact ${state}`;
    return this.tree.node(nodeId) ? null : 'The circuit or load that it switches is no longer there';
  }

  readBack(switchId: number): boolean | null {
    return this.state(switchId).readBack;
  }

  /** Whether an operation of the switch has not come to an end yet. */
  isBusy(switchId: number): boolean {
    return this.state(switchId).pending !== null;
  }

  async save(id: number | null, input: SwitchInput): Promise<SwitchEntity> {
    if (id !== null && !this.book.get(id)) throw notFound('switch', id);
    const command = this.devices.point(input.commandPointId);
    const state = this.devices.point(input.statePointId);
    if (!command || !isWritable(command.definition))
      throw invalidField('commandPointId', 'Choose a point that can be written.');
    if (!state || !isReadable(state.definition))
      throw invalidField('statePointId', 'Choose a point that can be read, so that the state comes back.');
    if (!this.tree.node(input.nodeId))
      throw invalidField('nodeId', 'Choose the circuit or load that it switches.');
    const other = this.book.ofNode(input.nodeId);
    if (other && other.id !== id) throw invalidField('nodeId', `It is already switched by “${other.name}”.`);
    const entity =
      id === null
        ? await this.book.rows.save({ ...input, version: 1, removedAt: null })
        : await this.book.rows.manager.transaction((tables) =>
            changeVersioned(tables, SwitchEntity, { id, removedAt: IsNull() }, input, { what: 'switch' }),
          );
    await this.book.reload();
    this.feed(this.live.all());
    this.changes.say('switches', 'installation');
    return entity;
  }

  async remove(id: number): Promise<void> {
    if (!this.book.get(id)) throw notFound('switch', id);
    if ((await this.rules.findBy({ switchId: id })).some((rule) => rule.removedAt === null))
      throw new Problem('has-rule', 'A cut-off rule uses this switch. Remove the rule first.');
    await this.book.rows.update(id, { removedAt: Date.now() });
    await this.book.reload();
    this.states.delete(id);
    this.changes.say('switches', 'installation');
  }

  /** What has been switched, newest first. */
  async history(): Promise<SwitchOperation[]> {
    await this.writer.idle();
    return this.operations.find({ order: { at: 'DESC' }, take: 200 });
  }

  /** Sends a command. Resolves when it has been sent; the outcome follows from the read-back state. */
  async operate(switchId: number, { closed, cause, who, reason }: Command): Promise<SwitchOperation> {
    const entity = this.book.get(switchId);
    if (!entity) throw notFound('switch', switchId);
    const lockout = closed ? this.lockouts.reason(switchId) : null;
    if (lockout !== null) throw new Problem('locked-out', lockout);
    const state = this.state(switchId);
    if (state.pending)
      this.finish(state.pending, 'failed', 'Another command came before the state was read back.');
    const row: SwitchOperationEntity = {
      id: randomUUID(),
      switchId,
      switchName: entity.name,
      at: Date.now(),
      closed,
      cause,
      who,
      reason,
      outcome: 'waiting',
      outcomeAt: null,
      message: null,
    };
    const pending: Pending = { row, order: ++this.orders, sentAt: null, patience: entity.timeoutMs };
    state.pending = pending;
    state.wanted = closed;
    this.record(row);
    const point = this.devices.point(entity.commandPointId);
    try {
      if (!point) throw new Error('The value that it is commanded by is no longer there.');
      await this.acquisition.write(point, closed ? 1 : 0, entity.timeoutMs);
      pending.sentAt = performance.now();
      // An older command that ends after a newer one has been sent is not the last one.
      if (state.lastSent < pending.order) {
        state.lastSent = pending.order;
        state.commanded = closed;
        state.commandedAt = Date.now();
        state.sentAt = pending.sentAt;
      }
    } catch (error) {
      this.finish(pending, 'failed', (error as Error).message);
    }
    const stateOf = this.devices.point(entity.statePointId);
    if (stateOf) this.acquisition.hurry(stateOf);
    this.changes.say('switches');
    return { ...row };
  }

  private state(id: number): SwitchState {
    const state = this.states.get(id) ?? { ...EMPTY, unknownSince: Date.now() };
    this.states.set(id, state);
    return state;
  }

  private feed(readings: readonly ArrivedReading[]): void {
    for (const entity of this.book.all())
      for (const reading of readings) {
        if (reading.pointId !== entity.statePointId) continue;
        const readBack = reading.v === null || !isUsable(reading.q) ? null : reading.v !== 0;
        const state = this.state(entity.id);
        state.readBackAt = reading.t;
        state.heardAt = reading.at;
        this.take(state, readBack);
      }
  }

  private take(state: SwitchState, readBack: boolean | null): void {
    if (state.readBack === readBack) return;
    state.readBack = readBack;
    state.unknownSince = readBack === null ? Date.now() : null;
    this.changes.say('switches');
  }

  /** Ends the operations whose outcome has become plain, and forgets the state of what is no longer read. */
  private check(): void {
    const stood = this.beat.stoodStill();
    for (const entity of this.book.all()) {
      const state = this.state(entity.id);
      if (state.pending) state.pending.patience += stood;
      if (!this.live.get(entity.statePointId)) this.take(state, null);
      const { pending } = state;
      if (!pending || pending.sentAt === null) continue;
      // Of an earlier run, and now the contact is heard: it has its usual time to say what was wanted.
      if (pending.order === 0 && pending.patience > entity.timeoutMs && state.heardAt >= pending.sentAt) {
        pending.sentAt = state.heardAt;
        pending.patience = entity.timeoutMs;
      }
      const end = commandEnd(
        { closed: pending.row.closed, commandedAt: pending.sentAt },
        { readBack: state.readBack, readBackAt: state.heardAt },
        performance.now(),
        pending.patience,
      );
      if (end === 'confirmed') this.finish(pending, 'confirmed', null);
      else if (end === 'mismatch') this.finish(pending, 'mismatch', whyNot(state));
    }
  }

  private finish(pending: Pending, outcome: SwitchOperation['outcome'], message: string | null): void {
    const { row } = pending;
    if (row.outcome !== 'waiting') return;
    const state = this.state(row.switchId);
    if (state.pending === pending) state.pending = null;
    row.outcome = outcome;
    row.outcomeAt = Date.now();
    row.message = message;
    this.record(row);
    this.changes.say('switches');
  }

  private record(row: SwitchOperationEntity): void {
    this.writer.write({
      what: `switch ${row.switchName} ${row.closed ? 'closed' : 'opened'}: ${row.reason}`,
      table: 'switch_operations',
      how: 'save',
      row: { ...row },
    });
  }

  /** Switches that stand otherwise than they were told, or depend on what is no longer there. */
  private standing(): Standing[] {
    return this.book.all().flatMap((entity): Standing[] => {
      const { id, name, statePointId: pointId } = entity;
      const missing = this.missingOf(entity);
      if (missing !== null)
        return [{ source: `switch ${id} missing`, kind: 'missing', name, condition: missing, pointId }];
      if (this.agreementOf(entity) !== 'mismatch') return [];
      const condition = `Told to ${this.state(id).commanded ? 'close' : 'open'}, and its contact reads ${this.state(id).readBack ? 'closed' : 'open'}: check the relay and its wiring`;
      return [{ source: `switch ${id} disagreement`, kind: 'disagreement', name, condition, pointId }];
    });
  }
}

const whyNot = ({ readBack }: SwitchState): string =>
  readBack === null
    ? 'The state could not be read back in time.'
    : `The contact still reads ${readBack ? 'closed' : 'open'}. Check the relay and its wiring.`;
