import type { Alert, AlertRule, AlertRuleInput } from '@loka/contract/alerts';
import { acknowledge, QUIET, stepLimitAlert, type AlertPhase, type AlertState } from '@loka/core/alerts';
import { quantityInfo } from '@loka/core/quantities';
import { Injectable, OnApplicationBootstrap, OnModuleDestroy } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { randomUUID } from 'node:crypto';
import { IsNull, LessThan, MoreThanOrEqual, Repository } from 'typeorm';
import { changeVersioned } from '../book/versioned.js';
import { EventWriter } from '../database/eventWriter.js';
import { Dependents } from '../book/dependents.js';
import { DeviceBook } from '../book/deviceBook.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { LiveReadings, type ArrivedReading } from '../live/liveReadings.js';
import { invalidField, notFound } from '../problem/errors.js';
import { AlertEntity, AlertRuleEntity } from './alert.entity.js';
import { conditionInWords, raisedBy } from './raisedBy.js';
import { StandingAlerts, type Standing } from './standing.js';
import { Newest } from '../database/newest.js';

interface Watched {
  rule: AlertRuleEntity;
  state: AlertState;
  /** The occurrence under way. */
  alert: AlertEntity | null;
}

/** How often what is the matter is looked at. */
const LOOK_EVERY = 500;
/** More of a period are not told one by one. */
const MOST_WITHIN = 1000;
/** What the table holds. */
const LONGEST_NAME = 160;
const LONGEST_CONDITION = 400;

/** Watches points against their limits and keeps what happened. Works from memory; the tables follow. */
@Injectable()
export class AlertsService implements OnApplicationBootstrap, OnModuleDestroy {
  private readonly newest = new Newest();
  private watched: Watched[] = [];
  /** Occurrences that still need a person or are still active, by id. */
  private readonly open = new Map<string, AlertEntity>();
  private timer: NodeJS.Timeout | null = null;

  constructor(
    @InjectRepository(AlertRuleEntity) private readonly rules: Repository<AlertRuleEntity>,
    @InjectRepository(AlertEntity) private readonly alerts: Repository<AlertEntity>,
    private readonly book: DeviceBook,
    private readonly live: LiveReadings,
    private readonly changes: ChangeFeed,
    private readonly writer: EventWriter,
    private readonly standing: StandingAlerts,
    dependents: Dependents,
  ) {
    dependents.add((ids) =>
      this.watched
        .filter(({ rule }) => ids.has(rule.pointId))
        .map(({ rule }) => ({
          kind: 'alert',
          id: rule.id,
          name: rule.name,
          does: 'nothing is watched any more',
        })),
    );
    standing.add(() => this.missing());
  }

  async onApplicationBootstrap(): Promise<void> {
    for (const alert of await this.alerts.find({
      where: [{ returnedAt: IsNull() }, { acknowledgedAt: IsNull() }],
    }))
      this.open.set(alert.id, alert);
    await this.reloadRules();
    this.live.stream.subscribe((readings) => this.feed(readings));
    this.timer = setInterval(() => this.look(), LOOK_EVERY);
  }

  onModuleDestroy(): void {
    if (this.timer) clearInterval(this.timer);
  }

  listRules(): AlertRule[] {
    return this.watched.map(({ rule, state }) => ({
      ...rule,
      phase: state.phase,
      missing: this.missingOf(rule),
    }));
  }

  async saveRule(id: number | null, input: AlertRuleInput): Promise<AlertRuleEntity> {
    if (!this.book.point(input.pointId)) throw invalidField('pointId', 'Choose the point to watch.');
    const rule =
      id === null
        ? await this.rules.save({ ...input, version: 1, removedAt: null })
        : await this.rules.manager.transaction((tables) =>
            changeVersioned(tables, AlertRuleEntity, { id, removedAt: IsNull() }, input, {
              what: 'alert rule',
            }),
          );
    await this.reloadRules();
    return rule;
  }

  async removeRule(id: number): Promise<void> {
    if (!this.watched.some((w) => w.rule.id === id)) throw notFound('alert rule', id);
    await this.rules.update(id, { removedAt: Date.now() });
    await this.reloadRules();
  }

  /** What needs somebody now: active, or returned and not yet seen. Newest first. */
  listOpen(): Alert[] {
    return [...this.open.values()].sort((a, b) => b.raisedAt - a.raisedAt).map(toAlert);
  }

  /** What has happened, newest first. */
  async history(limit: number): Promise<Alert[]> {
    await this.writer.idle();
    return (await this.alerts.find({ order: { raisedAt: 'DESC' }, take: limit })).map(toAlert);
  }

  /** Those that were raised, or still stood, within [from, to), in the order in which they were raised. */
  async within(from: number, to: number): Promise<Alert[]> {
    await this.writer.idle();
    const raised = { raisedAt: LessThan(to) };
    const rows = await this.alerts.find({
      where: [
        { ...raised, returnedAt: IsNull() },
        { ...raised, returnedAt: MoreThanOrEqual(from) },
      ],
      order: { raisedAt: 'ASC' },
      take: MOST_WITHIN,
    });
    return rows.map(toAlert);
  }

  acknowledge(id: string, who: string): Alert {
    const alert = this.open.get(id);
    if (!alert) throw notFound('open alert', id);
    if (alert.acknowledgedAt !== null) return toAlert(alert);
    alert.acknowledgedAt = Date.now();
    alert.acknowledgedBy = who;
    const watched = this.watched.find((w) => w.alert?.id === id);
    if (watched) watched.state = acknowledge(watched.state);
    this.record(alert);
    return toAlert(alert);
  }

  private reloadRules(): Promise<void> {
    return this.newest.take(
      () => this.rules.find({ where: { removedAt: IsNull() }, order: { id: 'ASC' } }),
      (rules) => {
        const before = this.watched;
        this.watched = rules
          .map(
            (rule) =>
              before.find((w) => w.rule.id === rule.id && sameCondition(w.rule, rule)) ?? this.resume(rule),
          )
          .map((w, i) => ({ ...w, rule: rules[i] as AlertRuleEntity }));
        // An alert whose rule has changed, is off, or is gone has nothing left that could end it.
        for (const alert of this.open.values())
          if (
            alert.kind === 'limit' &&
            alert.returnedAt === null &&
            !this.watched.some((w) => w.alert?.id === alert.id && w.rule.enabled)
          )
            this.endAlert(alert, Date.now());
        this.changes.say('alert-rules', 'alerts');
      },
    );
  }

  /** The state of a rule that was not watched until now; an occurrence left open by the last run goes on. */
  private resume(rule: AlertRuleEntity): Watched {
    const alert =
      [...this.open.values()].find(
        (a) =>
          a.ruleId === rule.id &&
          a.returnedAt === null &&
          a.condition === conditionInWords(rule, this.unitOf(rule)),
      ) ?? null;
    return {
      rule,
      alert,
      state: alert
        ? { phase: alert.acknowledgedAt === null ? 'unacknowledged' : 'acknowledged', pendingSince: null }
        : QUIET,
    };
  }

  private feed(readings: readonly ArrivedReading[]): void {
    for (const reading of readings)
      for (const watched of this.watched)
        if (watched.rule.enabled && watched.rule.pointId === reading.pointId) this.step(watched, reading);
  }

  private step(watched: Watched, reading: ArrivedReading): void {
    // Delays run by the monotonic clock; the reading's own time is only said.
    const t = Number.isFinite(reading.at) ? reading.at : performance.now();
    const { state, event } = stepLimitAlert(watched.rule, watched.state, { t, v: reading.v, q: reading.q });
    watched.state = state;
    if (event === 'raised') {
      watched.alert = raisedBy(watched.rule, reading, this.unitOf(watched.rule));
      this.open.set(watched.alert.id, watched.alert);
      this.record(watched.alert);
    } else if (event === 'returned' && watched.alert) {
      this.endAlert(watched.alert, reading.t);
      watched.alert = state.phase === 'normal' ? null : watched.alert;
    }
  }

  /** Raises what has come to be the matter, and ends what is it no longer. */
  private look(): void {
    const now = Date.now();
    const matters = new Map(this.standing.all().map((s) => [s.source, s]));
    for (const alert of this.open.values()) {
      if (alert.source === null || alert.returnedAt !== null) continue;
      if (!matters.delete(alert.source)) this.endAlert(alert, now);
    }
    for (const matter of matters.values()) this.raise(matter, now);
  }

  private raise({ source, kind, name, condition, pointId }: Standing, now: number): void {
    const alert: AlertEntity = {
      id: randomUUID(),
      kind,
      source,
      ruleId: null,
      pointId,
      name: name.slice(0, LONGEST_NAME),
      condition: condition.slice(0, LONGEST_CONDITION),
      raisedAt: now,
      value: null,
      returnedAt: null,
      acknowledgedAt: null,
      acknowledgedBy: null,
    };
    this.open.set(alert.id, alert);
    this.record(alert);
  }

  /** Rules whose point is no longer there. */
  private missing(): Standing[] {
    return this.watched.flatMap(({ rule }) => {
      const condition = rule.enabled ? this.missingOf(rule) : null;
      if (condition === null) return [];
      const source = `alert-rule ${rule.id} missing`;
      return [{ source, kind: 'missing' as const, name: rule.name, condition, pointId: rule.pointId }];
    });
  }

  /** What is no longer there of what a rule depends on, in words; null where it is. */
  private missingOf({ pointId }: AlertRuleEntity): string | null {
    const absence = this.book.absence(pointId);
    return absence && `The value that it watches ${absence}`;
  }

  private endAlert(alert: AlertEntity, t: number): void {
    alert.returnedAt = t;
    this.record(alert);
  }

  private record(alert: AlertEntity): void {
    if (alert.returnedAt !== null && alert.acknowledgedAt !== null) this.open.delete(alert.id);
    const row = { ...alert };
    this.writer.write({ what: `alert ${alert.name}`, table: 'alerts', how: 'save', row });
    this.changes.say('alerts', 'alert-rules');
  }

  private unitOf(rule: AlertRuleEntity): string {
    const quantity = this.book.point(rule.pointId)?.definition.quantity;
    return quantity ? quantityInfo(quantity).unit : '';
  }
}

const sameCondition = (a: AlertRuleEntity, b: AlertRuleEntity): boolean =>
  a.pointId === b.pointId && a.direction === b.direction && a.limit === b.limit && a.enabled === b.enabled;

function phaseOf({ returnedAt, acknowledgedAt }: AlertEntity): AlertPhase {
  if (returnedAt === null) return acknowledgedAt === null ? 'unacknowledged' : 'acknowledged';
  return acknowledgedAt === null ? 'returned-unacknowledged' : 'normal';
}

const toAlert = (alert: AlertEntity): Alert => ({ ...alert, phase: phaseOf(alert) });
