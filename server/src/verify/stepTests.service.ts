import type { StepAsked, StepLoad, StepTest, StepTestInput } from '@loka/contract/verify';
import { findAsked, stepsOf, type FoundStep, type Plate, type Switching } from '@loka/core/verify';
import { Injectable, Logger, OnApplicationBootstrap, OnModuleDestroy } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { IsNull, Not, Repository } from 'typeorm';
import { InstallationBook } from '../book/installationBook.js';
import { SwitchBook } from '../book/switchBook.js';
import { SwitchesService } from '../control/switches.service.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { invalidField, notFound, Problem } from '../problem/errors.js';
import { LookBuilder } from './lookBuilder.js';
import { WINDOW } from './recentReadings.js';
import { StepTestEntity } from './verify.entity.js';

/** Readings before the request that the step is measured against, ms. */
const BEFORE = 20_000;
const LOOK_EVERY = 1000;
/** A load is left as it is for so long, so that the next step has a level to stand against, ms. */
const LEAVE = 10_000;
/** A step that comes sooner after the last one is its own, ms. */
const ITS_OWN = 3000;
const LISTED = 10;

/**
 * Step tests: a load is asked for, and its step is looked for in what comes in. A test is in the database from its first
 * request on, so that it goes on at whichever device opens it, and after a restart.
 */
@Injectable()
export class StepTestsService implements OnApplicationBootstrap, OnModuleDestroy {
  private readonly log = new Logger('step test');
  private readonly open = new Map<number, StepTestEntity>();
  /** Steps that were found, by place: what a diagnosis may depend on. */
  private readonly found = new Map<number, Switching[]>();
  /** Since when it is the present step's turn, by place. */
  private readonly turnOf = new Map<number, number>();
  private timer: NodeJS.Timeout | null = null;
  private looking = false;

  constructor(
    @InjectRepository(StepTestEntity) private readonly rows: Repository<StepTestEntity>,
    private readonly tree: InstallationBook,
    private readonly switchBook: SwitchBook,
    private readonly switches: SwitchesService,
    private readonly looks: LookBuilder,
    private readonly changes: ChangeFeed,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    for (const test of await this.rows.findBy({ endedAt: IsNull() })) {
      // What was read before the restart is not at hand any more: the load is asked for again.
      const step = test.steps.find((s) => s.found === null);
      if (step?.askedAt) step.askedAt = Date.now();
      this.open.set(test.nodeId, test);
    }
    this.timer = setInterval(() => void this.look(), LOOK_EVERY);
  }

  onModuleDestroy(): void {
    if (this.timer) clearInterval(this.timer);
  }

  /** The test under way at a place; else the last one that has ended. */
  async current(nodeId: number): Promise<StepTest | null> {
    return this.open.get(nodeId) ?? (await this.ended(nodeId, 1))[0] ?? null;
  }

  async ended(nodeId: number, take = LISTED): Promise<StepTest[]> {
    return this.rows.find({ where: { nodeId, endedAt: Not(IsNull()) }, order: { id: 'DESC' }, take });
  }

  /** Loads that were found to have been switched after an instant. */
  switchings(nodeId: number, from: number): Switching[] {
    return (this.found.get(nodeId) ?? []).filter((s) => s.t > from);
  }

  async start(nodeId: number, { loads }: StepTestInput, who: string): Promise<StepTest> {
    const node = this.tree.node(nodeId);
    if (!node) throw notFound('place in the installation', nodeId);
    if ((await this.looks.of(nodeId, Date.now() - WINDOW)) === null)
      throw invalidField('loads', `Nothing measures “${node.name}” yet. Fit a meter first.`);
    if (this.open.has(nodeId))
      throw new Problem(
        'test-under-way',
        `A step test of “${node.name}” is under way. Go on with it, or end it.`,
      );
    if (loads.some((l) => l.byRelay) && !this.switchBook.ofNode(nodeId))
      throw invalidField('loads', `“${node.name}” has no switch; a person has to work the load.`);
    const steps = loads.flatMap((load) => [true, false].map((on) => asked(load, on)));
    const test = await this.rows.save({ nodeId, startedAt: Date.now(), endedAt: null, who, steps });
    this.open.set(nodeId, test);
    await this.ask(test);
    return this.keep(test);
  }

  /** Has the relay make the step whose turn it is. */
  async operate(nodeId: number, who: string): Promise<StepTest> {
    const { test, step } = this.under(nodeId);
    const entity = this.switchBook.ofNode(nodeId);
    if (!step.load.byRelay || !entity)
      throw new Problem('no-relay', 'This load is worked by hand: there is no relay to operate.');
    // Asked for before the command: the step may come in before its answer.
    step.askedAt = Date.now();
    await this.switches.operate(entity.id, {
      closed: step.on,
      cause: 'person',
      who,
      reason: `Step test: ${step.load.name}`,
    });
    return this.keep(test);
  }

  /** Leaves the present step out. @param meant the step that was shown; nothing is done when another one is present by now */
  async skip(nodeId: number, meant?: number): Promise<StepTest> {
    const { test, step } = this.under(nodeId);
    if (meant !== undefined && test.steps[meant] !== step) return test;
    step.found = 'skipped';
    return this.goOn(test);
  }

  /** What was found last was another load: it is looked for again. @param meant the step that was shown as found */
  async notThis(nodeId: number, meant?: number): Promise<StepTest> {
    const test = this.open.get(nodeId);
    const index = test?.steps.findLastIndex((s) => s.found !== null && s.found !== 'skipped') ?? -1;
    if (!test || index < 0) throw new Problem('nothing-found', 'Nothing has been found yet.');
    if (meant !== undefined && meant !== index) return test;
    const wrong = test.steps[index] as StepAsked;
    if (wrong.found !== null && wrong.found !== 'skipped') this.forget(nodeId, wrong.found.t);
    for (const step of test.steps.slice(index)) Object.assign(step, { found: null, askedAt: null });
    await this.ask(test);
    return this.keep(test);
  }

  async end(nodeId: number): Promise<StepTest> {
    const test = this.open.get(nodeId);
    if (!test) throw new Problem('no-test', 'No step test is under way.');
    return this.close(test);
  }

  private under(nodeId: number): { test: StepTestEntity; step: StepAsked } {
    const test = this.open.get(nodeId);
    const step = test?.steps.find((s) => s.found === null);
    if (!test || !step) throw new Problem('no-test', 'No step test is under way.');
    return { test, step };
  }

  /** Looks for the steps that are waited for, one place after the other. */
  private async look(): Promise<void> {
    if (this.looking) return;
    this.looking = true;
    try {
      for (const test of this.open.values()) await this.lookFor(test);
    } catch (error) {
      this.log.error(`a step could not be looked for: ${(error as Error).message}`);
    } finally {
      this.looking = false;
    }
  }

  private async lookFor(test: StepTestEntity): Promise<void> {
    const step = test.steps.find((s) => s.found === null);
    if (!step || step.askedAt === null) return;
    const after = this.lookedForSince(test, step, step.askedAt);
    const look = await this.looks.of(test.nodeId, after - BEFORE);
    const load = plateOf(step.load);
    const cameOn = step.on ? null : cameOnBefore(test, step);
    const found = look && findAsked(look, { askedAt: after, on: step.on, load, cameOn });
    // While it was looked for, somebody may have left it out or ended the test.
    if (!found || step.found !== null || this.open.get(test.nodeId) !== test) return;
    step.found = found;
    this.found.set(test.nodeId, [
      ...this.switchings(test.nodeId, Date.now() - WINDOW),
      { t: found.t, on: found.on, load, byRelay: step.load.byRelay },
    ]);
    await this.goOn(test);
  }

  /** Somebody may not wait until they are asked; a relay does. */
  private lookedForSince(test: StepTestEntity, step: StepAsked, askedAt: number): number {
    if (step.load.byRelay) return askedAt;
    const begun = Math.max(
      this.turnOf.get(test.nodeId) ?? test.startedAt,
      (lastFound(test)?.t ?? 0) + ITS_OWN,
    );
    return Math.min(askedAt, begun);
  }

  private async goOn(test: StepTestEntity): Promise<StepTest> {
    if (test.steps.every((s) => s.found !== null)) return this.close(test);
    await this.ask(test);
    return this.keep(test);
  }

  private close(test: StepTestEntity): Promise<StepTest> {
    this.open.delete(test.nodeId);
    test.endedAt = Date.now();
    return this.keep(test);
  }

  /**
   * Asks for the next step, once the load has been as it is for a while; one that the relay makes waits until somebody says
   * so.
   */
  private async ask(test: StepTestEntity): Promise<void> {
    const step = test.steps.find((s) => s.found === null);
    if (!step || step.load.byRelay) return;
    const now = Date.now();
    this.turnOf.set(test.nodeId, now);
    const look = await this.looks.of(test.nodeId, now - BEFORE);
    const moved = look ? stepsOf(look.own).map((s) => s.t) : [];
    step.askedAt = Math.max(now, ...moved.map((t) => t + LEAVE), (lastFound(test)?.t ?? 0) + LEAVE);
  }

  private forget(nodeId: number, t: number): void {
    this.found.set(
      nodeId,
      (this.found.get(nodeId) ?? []).filter((s) => s.t !== t),
    );
  }

  private async keep(test: StepTestEntity): Promise<StepTest> {
    await this.rows.save(test);
    this.changes.say('verifications');
    return test;
  }
}

const asked = (load: StepLoad, on: boolean): StepAsked => ({
  load: { ...load, watts: load.watts ?? null, powerFactor: load.powerFactor ?? null },
  on,
  askedAt: null,
  found: null,
});

/** The step that was found last. */
function lastFound({ steps }: StepTestEntity): FoundStep | undefined {
  const found = steps.findLast((s) => s.found !== null)?.found;
  return found === null || found === undefined || found === 'skipped' ? undefined : found;
}

/** The step by which a load came on that is to go off; null where it was left out. */
function cameOnBefore({ steps }: StepTestEntity, step: StepAsked): FoundStep | null {
  const found = steps[steps.indexOf(step) - 1]?.found;
  return found === undefined || found === 'skipped' ? null : found;
}

const plateOf = ({ name, watts, powerFactor }: StepLoad): Plate => ({ name, watts, powerFactor });
