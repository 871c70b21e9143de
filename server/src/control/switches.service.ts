import type { OperationCause, Switch, SwitchInput, SwitchOperation } from '@loka/contract/control';
import type { LiveReading } from '@loka/contract/readings';
import { commandEnd, switchAgreement } from '@loka/core/control';
import { isReadable, isWritable } from '@loka/core/registers';
import { isUsable } from '@loka/core/series';
import { Injectable, OnApplicationBootstrap, OnModuleDestroy } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { randomUUID } from 'node:crypto';
import { In, Repository } from 'typeorm';
import { AcquisitionService } from '../acquisition/acquisition.service.js';
import { EventWriter } from '../database/eventWriter.js';
import { DeviceBook } from '../book/deviceBook.js';
import { InstallationBook } from '../book/installationBook.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { LiveReadings } from '../live/liveReadings.js';
import { invalidField, notFound, Problem } from '../problem/errors.js';
import { SwitchEntity } from '../book/switch.entity.js';
import { CutOffRuleEntity, SwitchOperationEntity } from './control.entity.js';
import { Lockouts } from './lockouts.js';
import { SwitchBook } from '../book/switchBook.js';

interface SwitchState {
  wanted: boolean | null;
  commanded: boolean | null;
  commandedAt: number | null;
  readBack: boolean | null;
  readBackAt: number | null;
  /** The operation whose outcome is still open. */
  operation: SwitchOperationEntity | null;
}

const EMPTY: SwitchState = {
  wanted: null,
  commanded: null,
  commandedAt: null,
  readBack: null,
  readBackAt: null,
  operation: null,
};
const CHECK_EVERY = 200;

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
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    for (const { id } of this.book.all()) {
      const [last] = await this.operations.find({
        where: { switchId: id, outcome: In(['confirmed', 'mismatch', 'waiting']) },
        order: { at: 'DESC' },
        take: 1,
      });
      if (last)
        this.states.set(id, {
          ...EMPTY,
          wanted: last.closed,
          commanded: last.closed,
          commandedAt: last.at,
          operation: last.outcome === 'waiting' ? last : null,
        });
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
    const { wanted, commanded, commandedAt, readBack, readBackAt } = this.state(entity.id);
    const { id, name, nodeId, commandPointId, statePointId, timeoutMs } = entity;
    const agreement = switchAgreement({ commanded, commandedAt, readBack }, Date.now(), timeoutMs);
    return {
      id,
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
      agreement,
      lockout: this.lockouts.reason(id),
    };
  }

  readBack(switchId: number): boolean | null {
    return this.state(switchId).readBack;
  }

  /** Whether an operation of the switch has not come to an end yet. */
  isBusy(switchId: number): boolean {
    return this.state(switchId).operation?.outcome === 'waiting';
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
    if (other && other.id !== id) throw invalidField('nodeId', `It is switched by “${other.name}” already.`);
    const entity = await this.book.rows.save({ ...(id === null ? {} : { id }), ...input, removedAt: null });
    await this.book.reload();
    this.feed(this.live.all());
    this.changes.say('switches', 'installation');
    return entity;
  }

  async remove(id: number): Promise<void> {
    if (!this.book.get(id)) throw notFound('switch', id);
    if ((await this.rules.findBy({ switchId: id })).some((rule) => rule.removedAt === null))
      throw new Problem('has-rule', 'A cut-off rule uses this switch. Take the rule off first.');
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
    this.finish(state, 'failed', 'Another command came before the state was read back.');
    const operation: SwitchOperationEntity = {
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
    state.operation = operation;
    state.wanted = closed;
    this.record(operation);
    const point = this.devices.point(entity.commandPointId);
    try {
      if (!point) throw new Error('The point that it is commanded by is no longer there.');
      await this.acquisition.write(point, closed ? 1 : 0);
      state.commanded = closed;
      state.commandedAt = Date.now();
    } catch (error) {
      this.finish(state, 'failed', (error as Error).message);
    }
    const stateOf = this.devices.point(entity.statePointId);
    if (stateOf) this.acquisition.hurry(stateOf);
    this.changes.say('switches');
    return { ...operation };
  }

  private state(id: number): SwitchState {
    const state = this.states.get(id) ?? { ...EMPTY };
    this.states.set(id, state);
    return state;
  }

  private feed(readings: LiveReading[]): void {
    for (const entity of this.book.all())
      for (const reading of readings) {
        if (reading.pointId !== entity.statePointId) continue;
        const state = this.state(entity.id);
        const readBack = reading.v === null || !isUsable(reading.q) ? null : reading.v !== 0;
        if (state.readBack !== readBack) this.changes.say('switches');
        state.readBack = readBack;
        state.readBackAt = reading.t;
      }
  }

  /** Ends the operations whose outcome has become plain. */
  private check(): void {
    const now = Date.now();
    for (const entity of this.book.all()) {
      const state = this.state(entity.id);
      if (
        state.operation?.outcome !== 'waiting' ||
        state.commandedAt === null ||
        state.commandedAt < state.operation.at
      )
        continue;
      const sent = { closed: state.operation.closed, commandedAt: state.commandedAt };
      const end = commandEnd(sent, state, now, entity.timeoutMs);
      if (end === 'confirmed') this.finish(state, 'confirmed', null);
      else if (end === 'mismatch')
        this.finish(
          state,
          'mismatch',
          state.readBack === null
            ? 'The state could not be read back in time.'
            : `The contact still reads ${state.readBack ? 'closed' : 'open'}. Check the relay and its wiring.`,
        );
    }
  }

  private finish(state: SwitchState, outcome: SwitchOperation['outcome'], message: string | null): void {
    const { operation } = state;
    if (!operation || operation.outcome !== 'waiting') return;
    operation.outcome = outcome;
    operation.outcomeAt = Date.now();
    operation.message = message;
    this.record(operation);
    this.changes.say('switches');
  }

  private record(operation: SwitchOperationEntity): void {
    const row = { ...operation };
    this.writer.write(
      `switch ${operation.switchName} ${operation.closed ? 'closed' : 'opened'}: ${operation.reason}`,
      () => this.operations.save(row),
    );
  }
}
