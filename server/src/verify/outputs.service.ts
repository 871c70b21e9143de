import type { OutputTrial } from '@loka/contract/outputs';
import { SETTLE } from '@loka/core/series';
import { judgeOutput, sumOfTraces, type OutputPlace } from '@loka/core/verify';
import { Injectable, Logger, OnApplicationBootstrap, OnModuleDestroy } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { IsNull, Repository } from 'typeorm';
import { DeviceBook } from '../book/deviceBook.js';
import { InstallationBook } from '../book/installationBook.js';
import { powerPointsOf } from '../book/nodePoints.js';
import { SwitchBook } from '../book/switchBook.js';
import { SwitchesService } from '../control/switches.service.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { notFound, Problem } from '../problem/errors.js';
import { LookBuilder } from './lookBuilder.js';
import { OutputTrialEntity } from './outputTrial.entity.js';
import { RecentReadings } from './recentReadings.js';

/** Readings before the relay moves, ms: they are there already. Short, so that what happened before is not among them. */
const BEFORE = 6000;
/** The contact stays the other way round for so long, ms. */
const HOLD = 12_000;
/** Readings after it is back, ms. */
const AFTER = 10_000;
/** A contact that has not followed by then is given up, ms. */
const FOLLOWS_WITHIN = 10_000;
/** A trial that could not be recorded within this is not begun, ms. */
const BEGUN_WITHIN = 4000;
const TICK = 250;

interface Running {
  row: OutputTrialEntity;
  /** When the contact was read to have moved there, and back. */
  movedAt: number | null;
  returnedAt: number | null;
  /** When it was told to go, of the monotonic clock; and there, and back, UTC ms. */
  orderedAt: number;
  toldAt: number[];
}

/**
 * Outputs are tried one by one: the relay is operated, which circuit's power moves with it is looked at, and it is put back.
 * One at a time, so that what moves is that relay's. What somebody else does to the switch meanwhile has the last word.
 */
@Injectable()
export class OutputsService implements OnApplicationBootstrap, OnModuleDestroy {
  private readonly log = new Logger('outputs');
  private running: Running | null = null;
  private timer: NodeJS.Timeout | null = null;
  private busy = false;
  private saving: Promise<unknown> = Promise.resolve();

  constructor(
    @InjectRepository(OutputTrialEntity) private readonly rows: Repository<OutputTrialEntity>,
    private readonly tree: InstallationBook,
    private readonly devices: DeviceBook,
    private readonly switchBook: SwitchBook,
    private readonly switches: SwitchesService,
    private readonly looks: LookBuilder,
    private readonly recent: RecentReadings,
    private readonly changes: ChangeFeed,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    // After a restart nothing is sent by itself; how the contact stood is said, for a person to put it back.
    for (const row of await this.rows.findBy({ endedAt: IsNull() }))
      await this.rows.save({
        ...row,
        endedAt: Date.now(),
        backAt: null,
        trouble: `Loka was restarted while it was tried. Before, the contact was ${row.closedBefore ? 'closed' : 'open'}: see how it stands.`,
      });
    this.timer = setInterval(() => void this.tick(), TICK);
  }

  /** Who stops Loka in the middle leaves no contact the other way round. */
  async onModuleDestroy(): Promise<void> {
    if (this.timer) clearInterval(this.timer);
    if (this.running) await this.giveUp(this.running, 'Loka was stopped while it was tried.');
    await this.saving;
  }

  /** The last trial of each switch. */
  async list(): Promise<OutputTrial[]> {
    await this.saving;
    const rows: { id: number }[] = await this.rows.query(
      'SELECT MAX(id) AS id FROM output_trials GROUP BY switchId',
    );
    return rows.length === 0 ? [] : this.rows.find({ where: rows.map(({ id }) => ({ id })) });
  }

  /** Operates the relay of a switch, for some seconds. @throws Problem */
  async start(switchId: number, who: string): Promise<OutputTrial> {
    const entity = this.switchBook.get(switchId);
    if (!entity) throw notFound('switch', switchId);
    if (this.running)
      throw new Problem(
        'test-under-way',
        'Another output is being tried. One at a time, so that what moves is its own.',
      );
    const missing = this.switches.missingOf(entity);
    if (missing) throw new Problem('no-relay', `${missing}.`);
    const closed = this.switches.readBack(switchId);
    if (closed === null)
      throw new Problem('no-relay', `It is not known how the contact of “${entity.name}” stands now.`);
    if (this.switches.isBusy(switchId))
      throw new Problem('test-under-way', `“${entity.name}” is being operated just now.`);
    const running: Running = {
      row: this.rows.create({
        switchId,
        startedAt: Date.now(),
        who,
        closedBefore: closed,
        backAt: null,
        endedAt: null,
        result: null,
        trouble: '',
      }),
      movedAt: null,
      returnedAt: null,
      orderedAt: performance.now(),
      toldAt: [],
    };
    this.running = running;
    const asked = performance.now();
    try {
      await this.rows.save(running.row);
      if (this.running !== running) throw new Problem('no-test', 'It was stopped before it had begun.');
      // Whoever asked has gone away by then, believing that nothing happened.
      if (performance.now() - asked > BEGUN_WITHIN)
        throw new Problem('database-away', 'It was not begun: the database took too long. Try it again.');
      await this.order(running, !closed);
    } catch (error) {
      if (this.running === running) this.running = null;
      // It has not moved: what refuses it says why.
      if (running.row.id)
        await this.rows.save({ ...running.row, endedAt: Date.now(), trouble: (error as Error).message });
      throw error;
    }
    this.changes.say('outputs');
    return running.row;
  }

  /** Puts the contact back at once; what was seen is not enough for a verdict. */
  async stop(): Promise<void> {
    if (!this.running) throw new Problem('no-test', 'No output is being tried.');
    await this.giveUp(this.running, 'Stopped before it had been seen.');
  }

  private async tick(): Promise<void> {
    if (!this.running || this.busy) return;
    this.busy = true;
    try {
      await this.step(this.running);
    } catch (error) {
      this.log.error(`an output could not be tried: ${(error as Error).message}`);
    } finally {
      this.busy = false;
    }
  }

  private async step(running: Running): Promise<void> {
    const { row } = running;
    // It has not been told to go yet: what is wanted of it is of before.
    if (running.toldAt.length === 0) return;
    const { switchId, closedBefore } = row;
    const entity = this.switchBook.get(switchId);
    const stands = this.switches.readBack(switchId);
    if (!entity) return this.end(running, 'The switch was removed while it was tried.');
    const ordered = row.backAt !== null || running.movedAt === null ? !closedBefore : closedBefore;
    const view = this.switches.view(entity);
    if (view.wanted !== null && view.wanted !== ordered)
      return this.end(running, 'Someone, or a rule, operated it in the meantime; it was left that way.');
    const waits = performance.now() - running.orderedAt;
    if (running.movedAt === null) {
      if (stands === !closedBefore) {
        running.movedAt = Date.now();
        row.backAt = running.movedAt + HOLD;
        this.keep(row);
      } else if (waits > FOLLOWS_WITHIN) await this.giveUp(running, 'The contact has not followed.');
      return;
    }
    if (row.backAt !== null) {
      if (Date.now() >= row.backAt || waits > FOLLOWS_WITHIN + HOLD) {
        row.backAt = null;
        await this.putBack(running);
      }
      return;
    }
    if (running.returnedAt === null) {
      if (stands === closedBefore) running.returnedAt = Date.now();
      else if (waits > FOLLOWS_WITHIN)
        this.end(running, `The contact has not come back: it should be ${closedBefore ? 'closed' : 'open'}.`);
      return;
    }
    if (waits >= AFTER) this.judge(running);
  }

  private async order(running: Running, closed: boolean): Promise<void> {
    running.orderedAt = performance.now();
    running.toldAt.push(Date.now());
    await this.switches.operate(running.row.switchId, {
      closed,
      cause: 'person',
      who: running.row.who,
      reason: 'Output tried',
    });
  }

  private judge(running: Running): void {
    const { row, movedAt, returnedAt } = running;
    const [there, back] = running.toldAt;
    const entity = this.switchBook.get(row.switchId);
    const node = entity && this.tree.node(entity.nodeId);
    if (!node || movedAt === null || returnedAt === null || there === undefined || back === undefined)
      return this.end(running, 'The circuit of the switch was removed while it was tried.');
    const marks = [
      { t: there - BEFORE - SETTLE, on: row.closedBefore },
      { t: there, on: !row.closedBefore },
      { t: back, on: row.closedBefore },
    ];
    // From the command until the contact is read and its circuit has been read again, nobody knows which of both was read.
    const between = [
      [there, movedAt + SETTLE],
      [back, returnedAt + SETTLE],
    ] as const;
    const above = (id: number) => this.tree.above(id).map((n) => n.id);
    row.result = judgeOutput(
      { id: node.id, name: node.name, above: above(node.id) },
      this.places(there - BEFORE, above, (t) => between.every(([from, to]) => t < from || t > to)),
      marks,
      Date.now(),
    );
    this.end(running, '');
  }

  private places(
    from: number,
    above: (id: number) => number[],
    counts: (t: number) => boolean,
  ): OutputPlace[] {
    return this.looks.measured().flatMap((node) => {
      const points = this.devices.allPoints().filter((p) => p.nodeId === node.id);
      const power = sumOfTraces(powerPointsOf(points).map((p) => this.recent.trace(p.id, from)));
      if (!power) return [];
      const kept = power.t.map(counts);
      const only = (list: readonly number[]) => list.filter((_, i) => kept[i]);
      return [
        {
          id: node.id,
          name: node.name,
          above: above(node.id),
          power: { t: only(power.t), v: only(power.v) },
        },
      ];
    });
  }

  /** Puts the contact back; a cut-off may have opened it meanwhile, and keeps it so. */
  private async putBack(running: Running): Promise<boolean> {
    try {
      await this.order(running, running.row.closedBefore);
      this.keep(running.row);
      return true;
    } catch (error) {
      this.end(running, `It could not be put back: ${(error as Error).message}`);
      return false;
    }
  }

  /** Puts the contact back, and says why there is no verdict. */
  private async giveUp(running: Running, why: string): Promise<void> {
    // Nothing has been sent yet, and nothing will be.
    if (running.toldAt.length === 0) {
      this.running = null;
      return;
    }
    if (await this.putBack(running)) this.end(running, why);
  }

  private end(running: Running, trouble: string): void {
    if (this.running === running) this.running = null;
    Object.assign(running.row, { backAt: null, endedAt: Date.now(), trouble });
    this.keep(running.row);
  }

  /** What is to be done next does not wait for the database: a contact is put back in time also while that hangs. */
  private keep(row: OutputTrialEntity): void {
    const copy = { ...row };
    this.saving = this.saving
      .then(() => this.rows.save(copy))
      .catch((error: Error) => this.log.error(`a trial could not be kept: ${error.message}`))
      .then(() => this.changes.say('outputs'));
  }
}
