import type { Verification, VerificationRecord, RecordKind } from '@loka/contract/verify';
import {
  diagnose,
  isProven,
  levelBetween,
  phasorsOf,
  phasorsOnceRight,
  type Diagnosis,
  type LineReading,
  type Look,
  type Trace,
} from '@loka/core/verify';
import { Injectable, OnApplicationBootstrap } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Repository } from 'typeorm';
import { FittingsBook } from '../book/fittingsBook.js';
import { InstallationBook } from '../book/installationBook.js';
import { WiringBook } from '../book/wiringBook.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { notFound, Problem } from '../problem/errors.js';
import { LookBuilder } from './lookBuilder.js';
import { PastService } from './past.service.js';
import { WINDOW } from './recentReadings.js';
import { StepTestsService } from './stepTests.service.js';
import { VerificationEntity } from './verify.entity.js';
import { WiringWatch } from './wiringWatch.js';

/** What stands is averaged over so long, ms. */
const NOW = 10_000;
const LISTED = 20;
const EVENTS = 12;

/** How a place is wired, as far as its readings tell; and what people have recorded of it. */
@Injectable()
export class VerificationsService implements OnApplicationBootstrap {
  /** Since when a place is looked at again, because it was rewired. */
  private readonly anew = new Map<number, number>();

  constructor(
    @InjectRepository(VerificationEntity) private readonly rows: Repository<VerificationEntity>,
    private readonly tree: InstallationBook,
    private readonly wiring: WiringBook,
    private readonly looks: LookBuilder,
    private readonly tests: StepTestsService,
    private readonly past: PastService,
    private readonly watch: WiringWatch,
    private readonly fittings: FittingsBook,
    private readonly changes: ChangeFeed,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    const rows: { nodeId: number; proven: number }[] = await this.rows.query(
      'SELECT nodeId, proven FROM verifications WHERE id IN (SELECT MAX(id) FROM verifications GROUP BY nodeId)',
    );
    for (const { nodeId, proven } of rows) this.wiring.setProven(nodeId, Boolean(proven));
  }

  async of(nodeId: number): Promise<Verification> {
    const { look, diagnosis, from, deviceId } = await this.lookAt(nodeId);
    const records = await this.records(nodeId);
    const now = Date.now();
    const readings = readingsNow(look, now);
    const watts = look.own.total ?? look.own.channels[0]?.power ?? null;
    const { tried, events } = diagnosis;
    const { system } = look.circuit;
    const best = tried?.ways.ways[0];
    return {
      nodeId,
      deviceId,
      seconds: Math.round((now - Math.max(from, firstOf(look) ?? now)) / 1000),
      checks: diagnosis.checks,
      faults: diagnosis.faults,
      phasors: phasorsOf(readings, undefined, system),
      nominalVoltage: look.circuit.nominalVoltage,
      readings,
      tried:
        tried && best
          ? {
              readings: tried.readings,
              asRead: phasorsOf(tried.readings, best, system),
              onceRight: phasorsOnceRight(tried.readings, best, system),
              ways: tried.ways.ways.map(({ on, turned, off }) => ({ on, turned, off })),
              apart: Number.isFinite(tried.ways.apart) ? tried.ways.apart : null,
            }
          : null,
      above: look.above?.name ?? null,
      aboveWatts: lastOf(look.above?.total ?? null),
      watts: look.own.total || look.own.channels.length === 1 ? lastOf(watts) : sumNow(readings),
      events: events
        .slice(-EVENTS)
        .reverse()
        .map((e) => ({
          t: e.t,
          on: e.on,
          load: e.load?.name ?? null,
          own: e.ownWatts?.by ?? null,
          above: e.aboveWatts?.by ?? null,
        })),
      stepTest: await this.tests.current(nodeId),
      records,
      past: await this.past.propose(nodeId, records),
    };
  }

  /** Records how the wiring is found, or left. */
  async record(nodeId: number, kind: RecordKind, who: string): Promise<VerificationRecord> {
    const { diagnosis } = await this.lookAt(nodeId);
    const proven = isProven(diagnosis.checks);
    const row = await this.rows.save({
      nodeId,
      at: Date.now(),
      who,
      kind,
      proven,
      checks: diagnosis.checks,
      faults: diagnosis.faults,
      past: '',
    });
    this.wiring.setProven(nodeId, proven);
    await this.watch.take(nodeId, diagnosis, true);
    this.changes.say('verifications', 'installation');
    return row;
  }

  records(nodeId: number): Promise<VerificationRecord[]> {
    return this.rows.find({ where: { nodeId }, order: { id: 'DESC' }, take: LISTED });
  }

  /** Diagnoses a place on what was read since it was rewired; what was before says nothing about now. */
  private async lookAt(
    nodeId: number,
  ): Promise<{ look: Look; diagnosis: Diagnosis; from: number; deviceId: number }> {
    const node = this.tree.node(nodeId);
    if (!node) throw notFound('place in the installation', nodeId);
    const from = Math.max(Date.now() - WINDOW, this.anew.get(nodeId) ?? 0);
    const look = await this.looks.of(nodeId, from, this.tests.switchings(nodeId, from));
    const deviceId = this.looks.deviceAt(nodeId);
    if (!look || deviceId === null)
      throw new Problem('nothing-measured', `Nothing measures “${node.name}” yet. Fit a meter first.`);
    return { look, diagnosis: diagnose(look), from, deviceId };
  }

  /** Somebody has rewired a place: what was read before says nothing about now. */
  async rewired(nodeId: number, who: string): Promise<void> {
    this.lookAnew(nodeId);
    await this.fittings.add([nodeId], 'rewired', 'Rewired', who);
  }

  /** Only what is read from now on counts. */
  lookAnew(nodeId: number): void {
    if (!this.tree.node(nodeId)) throw notFound('place in the installation', nodeId);
    this.anew.set(nodeId, Date.now());
    this.watch.forgetReadingsOf(nodeId);
    this.changes.say('verifications');
  }
}

function readingsNow({ own, circuit }: Look, now: number): LineReading[] {
  const level = (trace: Trace | null) =>
    trace ? (levelBetween(trace, now - NOW, now, 1)?.mean ?? null) : null;
  return own.channels.map(({ line, voltage, current, power, reactive }) => ({
    line,
    volts: level(voltage) ?? circuit.nominalVoltage,
    amperes: level(current) ?? 0,
    watts: level(power),
    vars: level(reactive),
  }));
}

/** When the first reading of a look was read. */
const firstOf = ({ own }: Look): number | undefined =>
  (own.channels[0]?.current ?? own.channels[0]?.power ?? own.total)?.t[0];

const lastOf = (trace: Trace | null): number | null => trace?.v.at(-1) ?? null;

const sumNow = (readings: readonly LineReading[]): number | null =>
  readings.some((r) => r.watts === null) || readings.length === 0
    ? null
    : readings.reduce((sum, r) => sum + (r.watts as number), 0);
