import type { CutOffRule, CutOffRuleInput } from '@loka/contract/control';
import {
  ARMED,
  restoreCutOff,
  sameDecision,
  stepCutOff,
  type CutOffDecision,
  type CutOffReading,
  type CutOffState,
} from '@loka/core/control';
import { printAge } from '@loka/core/formats';
import { holdOf } from '@loka/core/series';
import { Injectable, Logger, OnApplicationBootstrap, OnModuleDestroy } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { IsNull, Repository } from 'typeorm';
import { StandingAlerts } from '../alerts/standing.js';
import { Dependents } from '../book/dependents.js';
import { DeviceBook } from '../book/deviceBook.js';
import { SwitchBook } from '../book/switchBook.js';
import { EventWriter } from '../database/eventWriter.js';
import { Newest } from '../database/newest.js';
import { Beat } from '../live/beat.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { LiveReadings, type ArrivedReading } from '../live/liveReadings.js';
import { changeVersioned } from '../book/versioned.js';
import { invalidField, notFound, Problem } from '../problem/errors.js';
import { CutOffRuleEntity } from './control.entity.js';
import { CutOffBasis, intervalOf } from './cutOffBasis.js';
import { CutOffWords } from './cutOffWords.js';
import { Lockouts } from './lockouts.js';
import { SwitchesService } from './switches.service.js';

interface Watched {
  entity: CutOffRuleEntity;
  state: CutOffState;
  decision: CutOffDecision | null;
  /** When the switch was last told to open because of the lockout, of the monotonic clock. */
  lastTry: number;
}

/** How often a tripped switch that still reads closed is told to open again. */
const TRY_AGAIN = 2000;
/** How often the time that has passed is looked at: a delay is over when it is over, and not with the next reading. */
const LOOK_EVERY = 100;
const BLIND_AFTER = 60_000;

/** Overload cut-off: watches a point and opens a switch when it stays above the limit, until a person restores it. */
@Injectable()
export class CutOffsService implements OnApplicationBootstrap, OnModuleDestroy {
  private readonly newest = new Newest();
  private readonly log = new Logger('cut-off');
  private watched: Watched[] = [];
  private timer: NodeJS.Timeout | null = null;
  private readonly beat = new Beat(LOOK_EVERY);
  /** For how long the process has stood still in all, ms. */
  private stood = 0;

  constructor(
    @InjectRepository(CutOffRuleEntity) private readonly rules: Repository<CutOffRuleEntity>,
    private readonly book: SwitchBook,
    private readonly devices: DeviceBook,
    private readonly switches: SwitchesService,
    private readonly basis: CutOffBasis,
    private readonly words: CutOffWords,
    private readonly live: LiveReadings,
    private readonly changes: ChangeFeed,
    private readonly writer: EventWriter,
    lockouts: Lockouts,
    standing: StandingAlerts,
    dependents: Dependents,
  ) {
    dependents.add((ids) => this.watched.flatMap(({ entity }) => this.basis.restsOn(ids, entity) ?? []));
    lockouts.add((switchId) => this.lockoutOf(switchId));
    standing.add(() => this.watched.flatMap((w) => this.words.standingOf(w.entity, w.state, w.decision)));
  }

  async onApplicationBootstrap(): Promise<void> {
    await this.words.followSite();
    await this.reload();
    this.live.stream.subscribe((readings) => this.feed(readings));
    this.timer = setInterval(() => this.look(), LOOK_EVERY);
  }

  onModuleDestroy(): void {
    if (this.timer) clearInterval(this.timer);
  }

  list(): CutOffRule[] {
    return this.watched.map((watched) => {
      const { entity, state, decision } = watched;
      const {
        id,
        switchId,
        pointId,
        limit,
        delayMs,
        ignoreAfterOnMs,
        enabled,
        blindAfterMs,
        openWhenBlind,
        version,
      } = entity;
      const missing = this.basis.missingOf(entity);
      return {
        id,
        version,
        switchId,
        pointId,
        limit,
        delayMs,
        ignoreAfterOnMs,
        blindAfterMs,
        openWhenBlind,
        enabled,
        tripped: state.tripped,
        decision: enabled && missing === null ? decision : null,
        missing,
      };
    });
  }

  async save(id: number | null, input: CutOffRuleInput): Promise<{ id: number }> {
    if (id !== null && !this.find(id)) throw notFound('cut-off rule', id);
    if (!this.book.get(input.switchId)) throw invalidField('switchId', 'Choose the switch to open.');
    const point = this.devices.point(input.pointId);
    if (!point) throw invalidField('pointId', 'Choose the point to watch.');
    if (input.limit <= 0)
      throw invalidField('limit', 'The limit is above zero; at zero the load could never run.');
    const blindAfterMs = input.blindAfterMs ?? Math.max(BLIND_AFTER, 2 * holdOf(intervalOf(point)));
    if (blindAfterMs < holdOf(intervalOf(point)))
      throw invalidField(
        'blindAfterMs',
        `It is read every ${printAge(intervalOf(point))}: allow at least ${printAge(holdOf(intervalOf(point)))} without a reading.`,
      );
    const before = id === null ? null : this.find(id);
    const { tripped } = before?.state ?? {};
    const sameCause = (['switchId', 'pointId', 'limit'] as const).every(
      (k) => before?.entity[k] === input[k],
    );
    if (tripped && !sameCause) throw new Problem('tripped', 'It has cut off a switch; restore that first.');
    const whole = { ...input, blindAfterMs, openWhenBlind: input.openWhenBlind ?? false };
    const saved =
      id === null
        ? await this.rules.save({ ...whole, version: 1, removedAt: null })
        : await this.rules.manager.transaction((tables) =>
            changeVersioned(tables, CutOffRuleEntity, { id, removedAt: IsNull() }, whole, {
              what: 'cut-off',
            }),
          );
    await this.reload();
    return { id: saved.id };
  }

  async remove(id: number): Promise<void> {
    const watched = this.find(id);
    if (!watched) throw notFound('cut-off rule', id);
    if (watched.state.tripped)
      throw new Problem(
        'tripped',
        'It has cut off its switch. Restore that first, so that someone has looked at the load.',
      );
    await this.rules.update(id, { removedAt: Date.now() });
    await this.reload();
  }

  /** A person has looked at the load: the lockout ends, and the switch may be closed again. */
  async restore(id: number, close: boolean, who: string): Promise<void> {
    const watched = this.find(id);
    if (!watched) throw notFound('cut-off rule', id);
    if (!watched.state.tripped) throw new Problem('not-tripped', 'It has not cut anything off.');
    watched.state = restoreCutOff();
    watched.entity = { ...watched.entity, trippedAt: null, trippedValue: null };
    this.keepTrip(watched.entity);
    this.say();
    if (close)
      await this.switches.operate(watched.entity.switchId, {
        closed: true,
        cause: 'restore',
        who,
        reason: 'Restored after the cut-off',
      });
  }

  private find(id: number): Watched | undefined {
    return this.watched.find((w) => w.entity.id === id);
  }

  private reload(): Promise<void> {
    return this.newest.take(
      () => this.rules.find({ where: { removedAt: IsNull() }, order: { id: 'ASC' } }),
      (rows) => {
        const before = this.watched;
        this.watched = rows.map((entity) => {
          const known = before.find((w) => w.entity.id === entity.id);
          // Of another reading, or through another switch, nothing that was seen before holds.
          const same = known?.entity.pointId === entity.pointId && known.entity.switchId === entity.switchId;
          const state =
            known && (same || known.state.tripped)
              ? known.state
              : entity.trippedAt === null
                ? ARMED
                : { ...ARMED, tripped: { at: entity.trippedAt, value: entity.trippedValue } };
          return { entity, state, decision: known?.decision ?? null, lastTry: -Infinity };
        });
        this.say();
      },
    );
  }

  private feed(readings: readonly ArrivedReading[]): void {
    // What waited while the process stood still may come before the look that was due.
    this.stood += this.beat.stoodStill();
    for (const watched of this.watched)
      for (const reading of readings)
        if (reading.pointId === watched.entity.pointId) this.step(watched, reading);
  }

  /** Moves all rules on with the time; a switch that is locked out and reads closed is told to open until it does, whoever closed it. */
  private look(): void {
    const now = performance.now();
    const stood = this.beat.stoodStill(now);
    // While the process stood still no load was seen, neither above its limit nor missing. What is waiting comes first.
    this.stood += stood;
    if (stood > 0) return;
    for (const watched of this.watched) {
      this.step(watched, null);
      const { entity, state } = watched;
      if (!state.tripped || now - watched.lastTry < TRY_AGAIN || this.switches.isBusy(entity.switchId))
        continue;
      if (this.switches.readBack(entity.switchId) === true)
        void this.open(watched, 'Locked out, and the contact still reads closed');
    }
  }

  private step(watched: Watched, reading: CutOffReading | null): void {
    const { entity, decision: before } = watched;
    const rule = entity.enabled ? this.basis.ruleOf(entity) : null;
    if (!rule) {
      // What was seen before it was switched off, or lost what it depends on, holds no more.
      if (!watched.state.tripped) watched.state = ARMED;
      watched.decision = null;
      return;
    }
    const { state, decision } = stepCutOff(rule, watched.state, {
      now: performance.now() - this.stood,
      t: Date.now(),
      reading,
      closed: this.switches.readBack(entity.switchId),
    });
    watched.state = state;
    watched.decision = decision;
    if (decision.action === 'trip') this.trip(watched, decision.value);
    else if (!sameDecision(before, decision)) this.say();
  }

  private trip(watched: Watched, value: number | null): void {
    const { entity, state } = watched;
    watched.entity = { ...entity, trippedAt: state.tripped?.at ?? Date.now(), trippedValue: value };
    this.keepTrip(watched.entity);
    void this.open(watched, `Cut off: ${this.words.causeOf(watched.entity)}`);
    this.say();
  }

  private async open(watched: Watched, reason: string): Promise<void> {
    watched.lastTry = performance.now();
    try {
      await this.switches.operate(watched.entity.switchId, {
        closed: false,
        cause: 'cut-off',
        who: 'cut-off rule',
        reason,
      });
    } catch (error) {
      this.log.error(
        `switch ${watched.entity.switchId} could not be told to open: ${(error as Error).message}`,
      );
    }
  }

  private lockoutOf(switchId: number): string | null {
    const watched = this.watched.find((w) => w.entity.switchId === switchId && w.state.tripped !== null);
    return watched?.state.tripped ? this.words.lockoutOf(watched.entity, watched.state.tripped.at) : null;
  }

  private say(): void {
    this.changes.say('cut-off-rules', 'switches');
  }

  private keepTrip({ id, trippedAt, trippedValue }: CutOffRuleEntity): void {
    this.writer.write({
      what: `cut-off rule ${id} ${trippedAt === null ? 'restored' : 'tripped'}`,
      table: 'cut_off_rules',
      how: 'update',
      row: { id, trippedAt, trippedValue },
    });
  }
}
