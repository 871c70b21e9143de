import { diagnose, type Check, type Diagnosis } from '@loka/core/verify';
import { Injectable, Logger, OnApplicationBootstrap, OnModuleDestroy } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Repository } from 'typeorm';
import { StandingAlerts } from '../alerts/standing.js';
import { InstallationBook } from '../book/installationBook.js';
import { WiringBook } from '../book/wiringBook.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { LookBuilder } from './lookBuilder.js';
import { WINDOW } from './recentReadings.js';
import { StepTestsService } from './stepTests.service.js';
import { WiringFaultEntity } from './verify.entity.js';

/** One place is looked at so often; all of them take a while. */
const LOOK_EVERY = 2000;
/** A fault is believed when it is found again after this, ms. */
const AGAIN_AFTER = 20_000;
/** Checks of which the background says something: the others need a person. */
const WATCHED = new Set<Check['kind']>(['settings', 'alive', 'through', 'clipped', 'phases', 'ratio']);

/**
 * Verification goes on in the background: place after place is diagnosed. A fault that is found twice is raised and stays
 * until the check that failed passes, also over a restart; that nothing can be told any more does not mend anything.
 */
@Injectable()
export class WiringWatch implements OnApplicationBootstrap, OnModuleDestroy {
  private readonly log = new Logger('wiring');
  private readonly kinds = new Map<number, Check['kind']>();
  private readonly suspected = new Map<number, { kind: Check['kind']; since: number }>();
  private readonly from = new Map<number, number>();
  private timer: NodeJS.Timeout | null = null;
  private next = 0;
  private looking = false;

  constructor(
    @InjectRepository(WiringFaultEntity) private readonly rows: Repository<WiringFaultEntity>,
    private readonly tree: InstallationBook,
    private readonly wiring: WiringBook,
    private readonly looks: LookBuilder,
    private readonly tests: StepTestsService,
    private readonly changes: ChangeFeed,
    standing: StandingAlerts,
  ) {
    standing.add(() =>
      this.wiring.withFaults().flatMap(([nodeId, { says }]) => {
        const node = this.tree.node(nodeId);
        return node
          ? [
              {
                source: `wiring ${nodeId}`,
                kind: 'wiring' as const,
                name: node.name,
                condition: says,
                pointId: null,
              },
            ]
          : [];
      }),
    );
  }

  async onApplicationBootstrap(): Promise<void> {
    for (const { nodeId, checkKind, says, since } of await this.rows.find()) {
      this.kinds.set(nodeId, checkKind);
      this.wiring.setFault(nodeId, { says, since });
    }
    this.timer = setInterval(() => void this.look(), LOOK_EVERY);
  }

  onModuleDestroy(): void {
    if (this.timer) clearInterval(this.timer);
  }

  /** What was read before now was read with the wiring as it was. */
  forgetReadingsOf(nodeId: number): void {
    this.from.set(nodeId, Date.now());
    this.suspected.delete(nodeId);
  }

  /** Takes what a diagnosis has come to. @param sure without waiting for it to be found again: a person has put it down */
  async take(nodeId: number, diagnosis: Diagnosis, sure = false): Promise<void> {
    const known = this.kinds.get(nodeId);
    const failed = this.failedOf(diagnosis, sure, known);
    if (failed) {
      const suspected = this.suspected.get(nodeId);
      if (suspected?.kind !== failed.kind)
        this.suspected.set(nodeId, { kind: failed.kind, since: Date.now() });
      const again = suspected?.kind === failed.kind && Date.now() - suspected.since >= AGAIN_AFTER;
      if (
        (sure || again || failed.kind === 'settings') &&
        (known !== failed.kind || this.wiring.fault(nodeId)?.says !== failed.says)
      )
        await this.raise(nodeId, failed);
      return;
    }
    this.suspected.delete(nodeId);
    const check = diagnosis.checks.find((c) => c.kind === known);
    // What is set can be read at any time: nothing is wrong with it any more once nobody wants it otherwise.
    const settled =
      known === 'settings' && (!check || (check.verdict === 'cannot-tell' && check.rests !== ''));
    if (known && (check?.verdict === 'pass' || settled)) await this.clear(nodeId);
  }

  /** The failure to be raised: of what the readings tell first, and of what is set in the device where that is all. */
  private failedOf(
    { checks, faults }: Diagnosis,
    sure: boolean,
    known: Check['kind'] | undefined,
  ): Check | undefined {
    const failing = checks.filter((c) => c.verdict === 'fail' && WATCHED.has(c.kind));
    // What has no name is for a person to look into, who is at the bench.
    const told = faults.length > 0 || sure ? failing.find((c) => c.kind !== 'settings') : undefined;
    // One that stands is not forgotten for it.
    const free = known === undefined || known === 'settings';
    return told ?? (free ? failing.find((c) => c.kind === 'settings') : undefined);
  }

  private async raise(nodeId: number, { kind, says }: Check): Promise<void> {
    const since = this.wiring.fault(nodeId)?.since ?? Date.now();
    this.kinds.set(nodeId, kind);
    this.wiring.setFault(nodeId, { says, since });
    await this.rows.save({ nodeId, checkKind: kind, says, since });
    this.changes.say('installation', 'verifications');
  }

  private async clear(nodeId: number): Promise<void> {
    this.kinds.delete(nodeId);
    this.wiring.setFault(nodeId, null);
    await this.rows.delete(nodeId);
    this.changes.say('installation', 'verifications');
  }

  private async look(): Promise<void> {
    const places = this.looks.measured();
    if (this.looking || places.length === 0) return;
    this.looking = true;
    try {
      this.next = (this.next + 1) % places.length;
      const node = places[this.next];
      if (!node) return;
      const from = Math.max(Date.now() - WINDOW, this.from.get(node.id) ?? 0);
      const look = await this.looks.of(node.id, from, this.tests.switchings(node.id, from));
      if (look) await this.take(node.id, diagnose(look));
      for (const nodeId of this.kinds.keys())
        if (!places.some((p) => p.id === nodeId)) await this.clear(nodeId);
    } catch (error) {
      this.log.error(`a place could not be looked at: ${(error as Error).message}`);
    } finally {
      this.looking = false;
    }
  }
}
