import type { CutOffRule, CutOffRuleInput } from '@loka/contract/control';
import type { LiveReading } from '@loka/contract/readings';
import { ARMED, restoreCutOff, stepCutOff, type CutOffDecision, type CutOffState } from '@loka/core/control';
import { printNumber } from '@loka/core/formats';
import { quantityInfo } from '@loka/core/quantities';
import { isFresh } from '@loka/core/series';
import { siteClock } from '@loka/core/time';
import { Injectable, Logger, OnApplicationBootstrap, OnModuleDestroy } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { IsNull, Repository } from 'typeorm';
import { EventWriter } from '../database/eventWriter.js';
import { DeviceBook } from '../book/deviceBook.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { LiveReadings } from '../live/liveReadings.js';
import { invalidField, notFound, Problem } from '../problem/errors.js';
import { SiteService } from '../site/site.service.js';
import { CutOffRuleEntity } from './control.entity.js';
import { Lockouts } from './lockouts.js';
import { SwitchBook } from '../book/switchBook.js';
import { SwitchesService } from './switches.service.js';
import { Newest } from '../database/newest.js';

interface Watched {
  rule: CutOffRuleEntity;
  state: CutOffState;
  decision: CutOffDecision | null;
  /** When the switch was last told to open because of the lockout. */
  lastTry: number;
  /** When a reading was last looked at, by a clock that nobody sets; since when it has been waited for, before the first. */
  lastFed: number;
}

/** How often a tripped switch that still reads closed is told to open again. */
const TRY_AGAIN = 2000;

/** Overload cut-off: watches a point and opens a switch when it stays above the limit, until a person restores it. */
@Injectable()
export class CutOffsService implements OnApplicationBootstrap, OnModuleDestroy {
  private readonly newest = new Newest();
  private readonly log = new Logger('cut-off');
  private watched: Watched[] = [];
  private timer: NodeJS.Timeout | null = null;
  private zone = 'UTC';

  constructor(
    @InjectRepository(CutOffRuleEntity) private readonly rules: Repository<CutOffRuleEntity>,
    private readonly book: SwitchBook,
    private readonly devices: DeviceBook,
    private readonly switches: SwitchesService,
    private readonly sites: SiteService,
    private readonly live: LiveReadings,
    private readonly changes: ChangeFeed,
    private readonly writer: EventWriter,
    lockouts: Lockouts,
  ) {
    lockouts.add((switchId) => this.lockoutOf(switchId));
  }

  async onApplicationBootstrap(): Promise<void> {
    await this.readZone();
    this.changes.changed.subscribe((topic) => {
      if (topic === 'site')
        void this.readZone().catch((error: Error) =>
          this.log.error(`the site could not be read: ${error.message}`),
        );
    });
    await this.reload();
    this.live.stream.subscribe((readings) => this.feed(readings));
    this.timer = setInterval(() => this.enforce(), 500);
  }

  onModuleDestroy(): void {
    if (this.timer) clearInterval(this.timer);
  }

  list(): CutOffRule[] {
    return this.watched.map(({ rule, state, decision }) => {
      const { id, switchId, pointId, limit, delayMs, ignoreAfterOnMs, enabled } = rule;
      return {
        id,
        switchId,
        pointId,
        limit,
        delayMs,
        ignoreAfterOnMs,
        enabled,
        tripped: state.tripped,
        decision: enabled ? decision : null,
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
    const before = id === null ? null : this.find(id);
    if (before?.state.tripped && before.rule.switchId !== input.switchId)
      throw new Problem('tripped', 'It has cut off a switch; restore that first.');
    const saved = await this.rules.save({ ...(id === null ? {} : { id }), ...input, removedAt: null });
    await this.reload();
    return { id: saved.id };
  }

  async remove(id: number): Promise<void> {
    const watched = this.find(id);
    if (!watched) throw notFound('cut-off rule', id);
    if (watched.state.tripped)
      throw new Problem(
        'tripped',
        'It has cut off its switch. Restore that first, so that somebody has looked at the load.',
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
    watched.rule = { ...watched.rule, trippedAt: null, trippedValue: null };
    this.keepTrip(watched.rule);
    this.say();
    if (close)
      await this.switches.operate(watched.rule.switchId, {
        closed: true,
        cause: 'restore',
        who,
        reason: 'Restored after the cut-off',
      });
  }

  private find(id: number): Watched | undefined {
    return this.watched.find((w) => w.rule.id === id);
  }

  private reload(): Promise<void> {
    return this.newest.take(
      () => this.rules.find({ where: { removedAt: IsNull() }, order: { id: 'ASC' } }),
      (rows) => {
        const before = this.watched;
        this.watched = rows.map((rule) => {
          const known = before.find((w) => w.rule.id === rule.id);
          const state =
            known?.state ??
            (rule.trippedAt === null
              ? ARMED
              : { ...ARMED, tripped: { at: rule.trippedAt, value: rule.trippedValue ?? 0 } });
          return {
            rule,
            state,
            decision: known?.decision ?? null,
            lastTry: 0,
            lastFed: known?.lastFed ?? performance.now(),
          };
        });
        this.say();
      },
    );
  }

  private feed(readings: LiveReading[]): void {
    for (const watched of this.watched) {
      const { rule } = watched;
      const reading = rule.enabled ? readings.find((r) => r.pointId === rule.pointId) : undefined;
      if (!reading) continue;
      const before = watched.decision;
      watched.lastFed = performance.now();
      const { state, decision } = stepCutOff(rule, watched.state, {
        ...reading,
        closed: this.switches.readBack(rule.switchId),
      });
      watched.state = state;
      watched.decision = decision;
      if (decision.action === 'trip') void this.trip(watched, decision.value);
      else if (
        before?.action !== decision.action ||
        (before.action === 'none' && before.because !== decision.because)
      )
        this.say();
    }
  }

  private async trip(watched: Watched, value: number): Promise<void> {
    watched.rule = {
      ...watched.rule,
      trippedAt: watched.state.tripped?.at ?? Date.now(),
      trippedValue: value,
    };
    this.keepTrip(watched.rule);
    await this.open(
      watched,
      `Cut off: ${this.print(watched.rule, value)} was above ${this.print(watched.rule, watched.rule.limit)}`,
    );
    this.say();
  }

  /** What comes late, or not at all, protects nothing, and the rule says so. */
  private tellBlind(watched: Watched): void {
    const { rule, state, decision } = watched;
    const interval = this.devices.point(rule.pointId)?.definition.intervalMs ?? 1000;
    if (!rule.enabled || state.tripped || isFresh(watched.lastFed, performance.now(), interval)) return;
    if (decision?.action === 'none' && decision.because === 'blind') return;
    watched.decision = { action: 'none', because: 'blind' };
    this.say();
  }

  /** A switch that is locked out and reads closed is told to open until it does, whoever closed it. */
  private enforce(): void {
    for (const watched of this.watched) {
      this.tellBlind(watched);
      const { rule, state } = watched;
      if (!state.tripped || Date.now() - watched.lastTry < TRY_AGAIN || this.switches.isBusy(rule.switchId))
        continue;
      if (this.switches.readBack(rule.switchId) === true)
        void this.open(watched, 'Locked out, and the contact still reads closed');
    }
  }

  private async open(watched: Watched, reason: string): Promise<void> {
    watched.lastTry = Date.now();
    try {
      await this.switches.operate(watched.rule.switchId, {
        closed: false,
        cause: 'cut-off',
        who: 'cut-off rule',
        reason,
      });
    } catch (error) {
      this.log.error(
        `switch ${watched.rule.switchId} could not be told to open: ${(error as Error).message}`,
      );
    }
  }

  private lockoutOf(switchId: number): string | null {
    const watched = this.watched.find((w) => w.rule.switchId === switchId && w.state.tripped !== null);
    if (!watched?.state.tripped) return null;
    const { at, value } = watched.state.tripped;
    return `Cut off at ${siteClock(this.zone, at, 'd LLL HH:mm:ss')}: ${this.print(watched.rule, value)} was above ${this.print(watched.rule, watched.rule.limit)}. Look at the load, then restore it.`;
  }

  private say(): void {
    this.changes.say('cut-off-rules', 'switches');
  }

  /** The clock that lockouts are told by. */
  private async readZone(): Promise<void> {
    this.zone = (await this.sites.get())?.timeZone ?? 'UTC';
  }

  private keepTrip({ id, trippedAt, trippedValue }: CutOffRuleEntity): void {
    this.writer.write(`cut-off rule ${id}`, () => this.rules.update(id, { trippedAt, trippedValue }));
  }

  private print(rule: CutOffRuleEntity, value: number): string {
    const quantity = this.devices.point(rule.pointId)?.definition.quantity;
    const { digits, unit } = printNumber(value, quantity ? quantityInfo(quantity).unit : '');
    return `${digits} ${unit}`.trim();
  }
}
