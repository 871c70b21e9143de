import type { TrialRead, TrialReadInput } from '@loka/contract/acquisition';
import type { LinkInput } from '@loka/contract/links';
import { isModbusKind } from '@loka/contract/links';
import type { TopicsSeen } from '@loka/contract/messages';
import { toDefinition } from '@loka/contract/registers';
import { implausible } from '@loka/core/quantities';
import { readSpanOf, textOf, valueOf, type PointDefinition, type Span } from '@loka/core/registers';
import { Inject, Injectable, Logger, OnApplicationBootstrap, OnApplicationShutdown } from '@nestjs/common';
import { rollup } from 'd3-array';
import { Subject } from 'rxjs';
import { isDeepStrictEqual } from 'node:util';
import { CONFIG, type Config } from '../config.js';
import { AcquisitionHealth } from '../devices/acquisitionHealth.js';
import { DeviceBook, type KnownPoint } from '../book/deviceBook.js';
import type { LinkEntity } from '../book/link.entity.js';
import { isToken } from '../devices/linkToken.js';
import { LiveReadings } from '../live/liveReadings.js';
import { notFound, Problem } from '../problem/errors.js';
import { AllowedNetworks } from '../security/allowedNetworks.js';
import { Intake } from './intake.js';
import { explainMqttFault } from './messages/mqttFault.js';
import { connectionOptions, connectOnce, MqttRunner } from './messages/mqttRunner.js';
import { PushRunner } from './messages/pushRunner.js';
import { Connection } from './modbus/connection.js';
import { explainFault } from './modbus/fault.js';
import { ModbusRunner } from './modbus/modbusRunner.js';
import { isTelling, LinkFault, type Runner } from './runner.js';

/** A command that could not be sent for so long, ms, is not sent any more. */
const WRITE_WITHIN = 5000;

interface Running {
  runner: Runner;
  /** The link it was started with. */
  wire: string;
  /** What is asked of the wire for each device; null are points without one. */
  asked: Map<number | null, string>;
}

/** Keeps one runner a link, as the tables say, and asks them for what is wanted once. */
@Injectable()
export class AcquisitionService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('acquisition');
  private readonly running = new Map<number, Running>();
  /** A device has said by itself that a setting is another: the point of it. */
  readonly settingTold = new Subject<number>();
  private settled: Promise<void> = Promise.resolve();

  constructor(
    private readonly book: DeviceBook,
    private readonly networks: AllowedNetworks,
    private readonly health: AcquisitionHealth,
    private readonly intake: Intake,
    private readonly live: LiveReadings,
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
    await this.intake.stored();
  }

  /** Reads definitions once on a link, saved or not: what is on the wire now, and the value it gives. */
  async trialRead({ linkId, unit, points }: TrialReadInput): Promise<TrialRead[]> {
    const link = await this.modbusLink(linkId);
    const results: TrialRead[] = [];
    for (const input of points) {
      try {
        results.push(await this.tryOne(link, unit, toDefinition(input)));
      } catch (error) {
        results.push({ key: input.key, words: null, value: null, message: (error as Error).message });
        // A unit that does not answer one question will not answer the next two hundred.
        if (error instanceof LinkFault && error.fault.kind === 'time-out') break;
      }
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

  /** Connects once over a link that need not be saved; the milliseconds it took. @throws Problem that says why not */
  async testLink(input: LinkInput): Promise<{ ms: number }> {
    const began = performance.now();
    const took = () => ({ ms: Math.round((performance.now() - began) * 10) / 10 });
    if (input.kind === 'http-push') return took();
    if (input.kind === 'mqtt') {
      await this.testBroker(input);
      return took();
    }
    const connection = new Connection(input, this.networks);
    try {
      await connection.open();
      return took();
    } catch (error) {
      const fault = explainFault(error, { ...input, unit: 0, what: 'connecting' });
      const field = input.kind === 'modbus-serial' ? 'path' : fault.kind === 'refused' ? 'port' : 'host';
      throw new LinkFault(fault, [{ field, message: fault.message }]);
    } finally {
      connection.close();
    }
  }

  private async testBroker(input: LinkInput): Promise<void> {
    const link = { ...input, id: 0, version: 0, secret: input.password ?? null };
    try {
      const options = await connectionOptions(link, this.networks, `loka-try-${process.pid}`);
      const client = await connectOnce({ ...options, reconnectPeriod: 0 });
      await client.endAsync();
    } catch (error) {
      const fault = explainMqttFault(error, link);
      const field = fault.kind === 'refused' ? 'port' : 'host';
      throw new LinkFault(fault, [{ field, message: fault.message }]);
    }
  }

  /** Sends a value (base units) to a point, within so many milliseconds or not at all. @throws LinkFault, Problem */
  write(point: KnownPoint, value: number, withinMs = WRITE_WITHIN): Promise<void> {
    const runner = this.runnerOf(point);
    if (!runner) throw new Problem('link-off', 'The link of this device is switched off.');
    return runner.write(point, value, withinMs);
  }

  /** What serves the link of a point; undefined while the link is off. */
  runnerOf({ linkId }: KnownPoint): Runner | undefined {
    return linkId === null ? undefined : this.running.get(linkId)?.runner;
  }

  hurry(point: KnownPoint): void {
    this.runnerOf(point)?.hurry(point.id);
  }

  /** What is being published on a link. */
  async topics(linkId: number): Promise<TopicsSeen> {
    const runner = this.running.get(linkId)?.runner;
    if (runner && isTelling(runner)) return runner.watch();
    throw new Problem('no-topics', 'Topics are watched on a link of kind MQTT or HTTP push that is in use.');
  }

  /** Takes in what was posted at the door. @throws Problem */
  async push(linkId: number, authorization: string | undefined, topic: string, body: unknown) {
    const runner = this.running.get(linkId)?.runner;
    const secret = this.book.secretOf(linkId);
    const token = /^Bearer\s+(\S+)$/i.exec(authorization ?? '')?.[1] ?? '';
    // One answer for all that is wrong, so that nobody learns which links there are.
    if (!(runner instanceof PushRunner) || !isToken(token, secret))
      throw new Problem('no-token', 'This needs the token of a push link, as “Authorization: Bearer …”.');
    return runner.take(topic, body);
  }

  /** Asks something of a unit, over the link's runner where it has one. @throws LinkFault */
  async ask<T>(
    link: LinkEntity,
    unit: number,
    what: string,
    action: (connection: Connection) => Promise<T>,
  ): Promise<T> {
    const runner = this.running.get(link.id)?.runner;
    if (runner instanceof ModbusRunner) return runner.ask(what, unit, action);
    const connection = new Connection(link, this.networks);
    try {
      return await action(connection);
    } catch (error) {
      throw new LinkFault(explainFault(error, { ...link, unit, what }));
    } finally {
      connection.close();
    }
  }

  /** Reads a span once, with the patience of its link. @throws LinkFault */
  readOnce(link: LinkEntity, unit: number, span: Span): Promise<number[]> {
    const what = `${span.kind} ${span.start}${span.count > 1 ? `–${span.start + span.count - 1}` : ''}`;
    return this.ask(link, unit, what, (c) => c.readPatiently(unit, span, link.retries));
  }

  /** A link that speaks Modbus. @throws Problem */
  async modbusLink(linkId: number): Promise<LinkEntity> {
    const link = await this.book.links.findOneBy({ id: linkId });
    if (!link) throw notFound('link', linkId);
    if (!isModbusKind(link.kind))
      throw new Problem(
        'no-registers',
        `“${link.name}” carries messages; there are no registers to be read.`,
      );
    return link;
  }

  private async tryOne(link: LinkEntity, unit: number, definition: PointDefinition): Promise<TrialRead> {
    const { key } = definition;
    const span = readSpanOf(definition);
    if (!span) return { key, words: null, value: null, message: 'The address is not complete.' };
    const words = await this.readOnce(link, unit, span);
    if (definition.type === 'string')
      return { key, words, value: null, text: textOf(definition, words), message: null };
    const value = valueOf(definition, words);
    const doubt = implausible(definition.quantity, value);
    return {
      key,
      words,
      value: Number.isFinite(value) ? value : null,
      message: doubt ? `Cannot be right: ${doubt}.` : null,
    };
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
    for (const [id, { runner, asked }] of this.running)
      if (!links.some((link) => link.id === id)) {
        this.running.delete(id);
        await runner.stop();
        this.health.forgetLink(id, devicesOf(asked));
        this.live.forget(points.filter((p) => p.linkId === id).map((p) => p.id));
      }
    for (const link of links)
      await this.arrangeLink(
        link,
        points.filter((p) => p.linkId === link.id),
      );
  }

  private async arrangeLink(link: LinkEntity, points: KnownPoint[]): Promise<void> {
    // Names, and where a point hangs in the tree, are no concern of the wire: a runner only hears of what is asked of it.
    const { name: _, version: __, ...ofWire } = link;
    const wire = JSON.stringify(ofWire);
    const asked = askedOf(points);
    const before = this.running.get(link.id);
    if (before?.wire === wire && isDeepStrictEqual(before.asked, asked)) return;
    try {
      if (before?.wire === wire && isTelling(before.runner)) {
        const changed = changedIn(before.asked, asked);
        for (const id of changed) this.health.forgetDevice(id);
        before.runner.renew(points, changed);
        before.asked = asked;
        return;
      }
      await before?.runner.stop();
      if (before) this.health.forgetLink(link.id, devicesOf(before.asked));
      const runner = this.runnerFor(link, points);
      this.running.set(link.id, { runner, wire, asked });
      runner.start();
    } catch (error) {
      // One that cannot be served says why, and the others are.
      this.running.delete(link.id);
      await before?.runner.stop().catch((e: Error) => this.log.error(`link ${link.id}: ${e.stack}`));
      this.health.failed(link.id, null, {
        kind: 'not understood',
        message: `The link could not be started: ${(error as Error).message}.`,
        linkDown: true,
      });
      this.log.error(`link ${link.id} could not be started: ${(error as Error).stack}`);
    }
  }

  private runnerFor(link: LinkEntity, points: KnownPoint[]): Runner {
    const accept: Intake['accept'] = (readings) => this.intake.accept(readings);
    const stored = () => this.intake.stored();
    const told = (pointId: number) => this.settingTold.next(pointId);
    if (link.kind === 'mqtt')
      return new MqttRunner(link, points, this.networks, this.health, accept, stored, told);
    if (link.kind === 'http-push') return new PushRunner(link.id, points, this.health, accept, stored, told);
    return new ModbusRunner(link, points, this.networks, this.health, accept);
  }
}

/** What is asked of the wire for each device, as text that can be compared. */
const askedOf = (points: readonly KnownPoint[]): Running['asked'] =>
  rollup(
    points,
    (own) => JSON.stringify(own.map((p) => [p.id, p.unit, p.topic, p.definition, p.availability])),
    ({ deviceId }) => deviceId,
  );

const devicesOf = (asked: Running['asked']): number[] => [...asked.keys()].filter((id) => id !== null);

/** The devices that are new, gone, or asked something else. */
const changedIn = (before: Running['asked'], now: Running['asked']): Set<number> =>
  new Set([...devicesOf(before), ...devicesOf(now)].filter((id) => before.get(id) !== now.get(id)));
