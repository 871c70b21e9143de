import { toDefinition } from '@loka/contract/registers';
import type { TrialRead, TrialReadInput } from '@loka/contract/devices';
import type { LiveReading } from '@loka/contract/readings';
import { implausible } from '@loka/core/quantities';
import {
  isWritableKind,
  spanOf,
  valueOf,
  wordsFor,
  type PointDefinition,
  type Span,
} from '@loka/core/registers';
import { isBad } from '@loka/core/series';
import { Inject, Injectable, Logger, OnApplicationBootstrap, OnApplicationShutdown } from '@nestjs/common';
import { CONFIG, type Config } from '../config.js';
import { CorrectionBook } from '../calibration/correctionBook.js';
import { AcquisitionHealth } from '../devices/acquisitionHealth.js';
import { DeviceBook, type KnownPoint } from '../devices/deviceBook.js';
import type { LinkEntity } from '../devices/link.entity.js';
import { LiveReadings } from '../live/liveReadings.js';
import { notFound, Problem } from '../problem/problem.js';
import { AllowedNetworks } from '../security/allowedNetworks.js';
import { SampleStore } from '../series/sampleStore.js';
import { Connection } from './connection.js';
import { explainFault } from './fault.js';
import { LinkFault, LinkRunner, type RawReading } from './linkRunner.js';

interface Running {
  runner: LinkRunner;
  /** What it was started with; a change of it calls for a new runner. */
  signature: string;
  deviceIds: number[];
}

/** Keeps one runner a link, as the tables say, and sends what they read on its way: corrected, live, stored. */
@Injectable()
export class AcquisitionService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('acquisition');
  private readonly running = new Map<number, Running>();
  private settled: Promise<void> = Promise.resolve();
  private readonly lastBad = new Map<number, number>();

  constructor(
    private readonly book: DeviceBook,
    private readonly networks: AllowedNetworks,
    private readonly health: AcquisitionHealth,
    private readonly corrections: CorrectionBook,
    private readonly live: LiveReadings,
    private readonly store: SampleStore,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    if (!this.config.acquire) return;
    this.book.reloaded.subscribe(() => void this.arrange());
    await this.arrange();
  }

  async onApplicationShutdown(): Promise<void> {
    await this.settled;
    await Promise.all([...this.running.values()].map(({ runner }) => runner.stop()));
    await this.store.flush();
  }

  /** Reads definitions once on a link, saved or not: what is on the wire now, and the value it gives. */
  async trialRead({ linkId, unit, points }: TrialReadInput): Promise<TrialRead[]> {
    const link = await this.book.links.findOneBy({ id: linkId });
    if (!link) throw notFound('link', linkId);
    const results: TrialRead[] = [];
    for (const input of points) {
      results.push(await this.tryOne(link, unit, toDefinition(input)));
      // A unit that does not answer one question will not answer the next two hundred.
      if (results.at(-1)?.message?.includes('no answer within')) break;
    }
    return points.map(
      (p, i) =>
        results[i] ?? {
          key: p.key,
          words: null,
          value: null,
          message: (results.at(-1) as TrialRead).message,
        },
    );
  }

  /** Connects once to an address; the milliseconds it took. @throws Problem that says why not */
  async testAddress(address: { host: string; port: number; timeoutMs: number }): Promise<{ ms: number }> {
    const connection = new Connection(address, this.networks);
    const began = performance.now();
    try {
      await connection.open();
      return { ms: Math.round((performance.now() - began) * 10) / 10 };
    } catch (error) {
      const { message, quality } = explainFault(error, { ...address, unit: 0, what: 'connecting' });
      throw new Problem(422, 'link-fault', message, [{ field: quality === 0x82 ? 'port' : 'host', message }]);
    } finally {
      connection.close();
    }
  }

  /** Writes a value (base units) to a point and has its device read again soon. @throws LinkFault */
  async write(point: KnownPoint, value: number): Promise<void> {
    const { kind } = point.definition;
    const span = spanOf(point.definition);
    if (!span || !isWritableKind(kind))
      throw new Problem(422, 'not-writable', `“${point.definition.name}” cannot be written.`);
    const runner = this.running.get(point.linkId)?.runner;
    if (!runner) throw new Problem(409, 'link-off', 'The link of this device is switched off.');
    const words = wordsFor(point.definition, value);
    await runner.ask(`writing ${kind} ${span.start}`, point.unit, (c) =>
      c.write(point.unit, kind as 'coil' | 'holding', span.start, words),
    );
  }

  hurry(point: KnownPoint): void {
    this.running.get(point.linkId)?.runner.hurry(point.id);
  }

  private async tryOne(link: LinkEntity, unit: number, definition: PointDefinition): Promise<TrialRead> {
    const span = spanOf(definition);
    if (!span)
      return { key: definition.key, words: null, value: null, message: 'The address is not complete.' };
    try {
      const words = await this.readOnce(link, unit, span);
      const value = valueOf(definition, words);
      const doubt = implausible(definition.quantity, value);
      return {
        key: definition.key,
        words,
        value: Number.isFinite(value) ? value : null,
        message: doubt ? `Cannot be right: ${doubt}.` : null,
      };
    } catch (error) {
      if (error instanceof LinkFault)
        return { key: definition.key, words: null, value: null, message: error.message };
      return { key: definition.key, words: null, value: null, message: (error as Error).message };
    }
  }

  /** Reads a span once, over the link's runner where it has one. @throws LinkFault */
  async readOnce(link: LinkEntity, unit: number, span: Span): Promise<number[]> {
    const what = `${span.kind} ${span.start}${span.count > 1 ? `–${span.start + span.count - 1}` : ''}`;
    const runner = this.running.get(link.id)?.runner;
    if (runner) return runner.ask(what, unit, (c) => c.read(unit, span));
    const connection = new Connection(link, this.networks);
    try {
      return await connection.read(unit, span);
    } catch (error) {
      throw new LinkFault(explainFault(error, { ...link, unit, what }));
    } finally {
      connection.close();
    }
  }

  /** Starts, stops and renews runners until they are as the tables say. One arrangement at a time. */
  private arrange(): Promise<void> {
    this.settled = this.settled
      .then(() => this.arrangeNow())
      .catch((error: Error) => this.log.error(`links could not be arranged: ${error.message}`));
    return this.settled;
  }

  private async arrangeNow(): Promise<void> {
    const links = (await this.book.links.find()).filter((link) => link.enabled);
    const points = this.book.allPoints();
    for (const [id, { runner, deviceIds }] of this.running)
      if (!links.some((link) => link.id === id)) {
        this.running.delete(id);
        await runner.stop();
        this.health.forgetLink(id, deviceIds);
        this.live.forget(points.filter((p) => p.linkId === id).map((p) => p.id));
      }
    for (const link of links) {
      const own = points.filter((p) => p.linkId === link.id);
      // Where a point hangs in the tree is no concern of the wire: only what is asked of it calls for a new runner.
      const signature = JSON.stringify([
        link.host,
        link.port,
        link.timeoutMs,
        own.map((p) => [p.id, p.unit, p.definition]),
      ]);
      const before = this.running.get(link.id);
      if (before?.signature === signature) continue;
      await before?.runner.stop();
      if (before) this.health.forgetLink(link.id, before.deviceIds);
      const runner = new LinkRunner(link, own, this.networks, this.health, (readings) =>
        this.accept(readings),
      );
      this.running.set(link.id, { runner, signature, deviceIds: [...new Set(own.map((p) => p.deviceId))] });
      runner.start();
    }
  }

  private accept(raws: RawReading[]): void {
    // A request that was under way when its point was taken off still comes in.
    const readings: LiveReading[] = raws
      .filter((raw) => this.book.point(raw.pointId))
      .map((raw) => ({
        ...raw,
        v: raw.raw === null ? null : this.corrections.correct(raw.pointId, raw.t, raw.raw),
      }));
    this.store.append(
      readings
        .filter((r) => this.worthStoring(r))
        .map(({ pointId, t, raw, q }) => ({ pointId, t, v: raw, q })),
    );
    this.live.publish(readings);
  }

  /** Every reading is stored; of a row of failures, the first one of each kind: the gap after it speaks for the rest. */
  private worthStoring({ pointId, q }: LiveReading): boolean {
    if (!isBad(q)) return this.lastBad.delete(pointId) || true;
    if (this.lastBad.get(pointId) === q) return false;
    this.lastBad.set(pointId, q);
    return true;
  }
}
