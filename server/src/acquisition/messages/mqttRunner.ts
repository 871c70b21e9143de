import type { TopicsSeen } from '@loka/contract/messages';
import { isMessage } from '@loka/core/definitions';
import { isSetting, isWritable } from '@loka/core/points';
import {
  LARGEST_PAYLOAD,
  payloadFor,
  settingPayloadFor,
  topicFor,
  type MessageDefinition,
} from '@loka/core/messages';
import { QUALITY } from '@loka/core/series';
import mqtt, { type IClientOptions, type MqttClient } from 'mqtt';
import { isIP } from 'node:net';
import pTimeout from 'p-timeout';
import type { AcquisitionHealth } from '../../devices/acquisitionHealth.js';
import type { KnownPoint } from '../../book/deviceBook.js';
import type { LinkEntity } from '../../book/link.entity.js';
import { Problem } from '../../problem/errors.js';
import type { AllowedNetworks } from '../../security/allowedNetworks.js';
import { LinkFault, type Fault, type RawReading, type TellingRunner } from '../runner.js';
import { MessageDesk } from './messageDesk.js';
import { explainMqttFault } from './mqttFault.js';
import { ToldSettings } from './toldSettings.js';
import { TopicBook } from './topicBook.js';

const RECONNECT = 2000;
/** How often it is seen whether messages can be kept again, ms. */
const OWED_EVERY = 2000;
/** Watching stops when nobody has looked for this long. */
const WATCHED_FOR = 30_000;

/**
 * Listens to the devices of an MQTT broker and sends their commands. A message of QoS 1 is acknowledged when its
 * readings are stored, so that a broker keeps what has not been.
 */
export class MqttRunner implements TellingRunner {
  private desk: MessageDesk;
  told: ToldSettings;
  private client: MqttClient | null = null;
  private connecting: Promise<void> = Promise.resolve();
  private retry: NodeJS.Timeout | null = null;
  private owing: NodeJS.Timeout | null = null;
  private stopped = false;
  private fault: string | null = null;
  private watching: { client: MqttClient; book: TopicBook; until: number } | null = null;
  private watchTimer: NodeJS.Timeout | null = null;

  constructor(
    private readonly link: LinkEntity,
    points: readonly KnownPoint[],
    private readonly networks: AllowedNetworks,
    private readonly health: AcquisitionHealth,
    private readonly deliver: (readings: RawReading[]) => void,
    private readonly stored: () => Promise<void>,
    private readonly settingTold: (pointId: number) => void,
  ) {
    this.desk = new MessageDesk(link.id, points, health, deliver);
    this.told = new ToldSettings(points, settingTold);
  }

  start(): void {
    this.connecting = this.connect();
  }

  async stop(): Promise<void> {
    this.stopped = true;
    this.desk.stop();
    this.oweNothing();
    if (this.retry) clearTimeout(this.retry);
    await this.connecting;
    await this.endWatch();
    await this.client?.endAsync(true);
  }

  renew(points: readonly KnownPoint[], changed: ReadonlySet<number>): void {
    const before = this.topics;
    this.desk.stop();
    const { desk, told } = this;
    this.desk = new MessageDesk(this.link.id, points, this.health, this.deliver, { desk, changed });
    this.told = new ToldSettings(points, this.settingTold, { told, changed });
    // While nothing is connected yet, the connection brings the rest.
    if (!this.client) return;
    this.desk.start();
    if (!this.client.connected) return;
    // Only what is new: the broker tells again what it has kept of whatever is subscribed to.
    this.subscribe(this.client, [...new Set([...this.desk.newTopics, ...this.told.newTopics])]);
    const { topics } = this;
    const gone = before.filter((topic) => !topics.includes(topic));
    if (gone.length > 0) this.client.unsubscribe(gone, (error) => this.isDone(error));
  }

  private get topics(): string[] {
    return [...new Set([...this.desk.topics, ...this.told.topics])];
  }

  private subscribe(client: MqttClient, topics: string[]): void {
    if (topics.length > 0) client.subscribe(topics, { qos: 1 }, (error) => this.isDone(error));
  }

  private isDone(error: Error | null | undefined): void {
    // What is under way when the link is stopped comes to nothing, and that is no fault of it.
    if (error && !this.stopped) this.failed(explainMqttFault(error, this.link));
  }

  async write({ definition, topic }: KnownPoint, value: number): Promise<void> {
    const sends = isMessage(definition) ? sentAs(definition, value) : null;
    if (!sends) throw new Problem('not-writable', `“${definition.name}” cannot be written.`);
    const at = topicFor(sends.topic, topic);
    const client = this.connected('nothing was sent');
    try {
      await this.publish(client, at, sends.payload, sends.qos);
    } catch (error) {
      throw this.linkFault(`The command on “${at}” was not accepted: ${(error as Error).message}.`);
    }
  }

  /** Whoever subscribes again is told again what the broker has kept (MQTT 3.1.1, 3.8.4; MQTT 5.0, 3.8.3.1). */
  async tellAgain({ definition, topic }: KnownPoint): Promise<void> {
    if (!isMessage(definition)) return;
    const client = this.connected('nothing was asked');
    const at = topicFor(definition.topic, topic);
    try {
      await pTimeout(client.subscribeAsync(at, { qos: 1 }), { milliseconds: this.link.timeoutMs });
    } catch (error) {
      throw this.linkFault(`“${at}” was not repeated: ${(error as Error).message}.`);
    }
  }

  isOffline(deviceId: number): boolean {
    return this.desk.isOffline(deviceId);
  }

  /** @throws LinkFault */
  private connected(undone: string): MqttClient {
    if (!this.client?.connected)
      throw this.linkFault(this.fault ?? `The broker ${this.link.host} is not connected; ${undone}.`);
    return this.client;
  }

  /**
   * Publishes a command, and resolves when the broker has it. One that has failed must not be carried out later: it is
   * taken out of what the client would send again, and with MQTT 5 the broker itself forgets what a device was not there
   * to take.
   */
  private async publish(client: MqttClient, topic: string, payload: string, qos: 0 | 1 | 2): Promise<void> {
    const { timeoutMs, mqttVersion } = this.link;
    const expiry =
      mqttVersion === '5' ? { properties: { messageExpiryInterval: Math.ceil(timeoutMs / 1000) } } : {};
    const before = client.getLastMessageId();
    const sent = client.publishAsync(topic, payload, { qos, ...expiry });
    const number = client.getLastMessageId();
    try {
      await pTimeout(sent, {
        milliseconds: timeoutMs,
        message: `the broker did not acknowledge within ${timeoutMs} ms`,
      });
    } catch (error) {
      // What is taken back rejects as well.
      sent.catch(() => undefined);
      if (number !== before) client.removeOutgoingMessage(number);
      // It waits behind what the client sends again after a connection, and has no number yet.
      else if (qos > 0) this.startAnew(client);
      throw error;
    }
  }

  /** Drops the connection with all that waits in it. */
  private startAnew(client: MqttClient): void {
    client.removeAllListeners('close');
    client.end(true);
    if (this.client === client && !this.stopped) this.start();
  }

  hurry(): void {
    // A device that reports by itself cannot be asked; its state comes when it says it.
  }

  /** What is being published on the broker. Begins to listen to everything, and stops when nobody looks any more. */
  async watch(): Promise<TopicsSeen> {
    if (!this.watching && !this.stopped) {
      try {
        await this.beginWatch();
      } catch (error) {
        return new TopicBook().seen(explainMqttFault(error, this.link).message);
      }
    }
    if (!this.watching) return new TopicBook().seen('The link is switched off.');
    this.watching.until = performance.now() + WATCHED_FOR;
    return this.watching.book.seen(this.watching.client.connected ? null : this.fault);
  }

  private async beginWatch(): Promise<void> {
    const options = await connectionOptions(
      this.link,
      this.networks,
      `loka-watch-${process.pid}-${this.link.id}`,
    );
    const client = await connectOnce({ ...options, clean: true });
    const book = new TopicBook();
    this.watching = { client, book, until: performance.now() + WATCHED_FOR };
    client.on('error', (error) => book.refuse(error.message));
    client.on('message', (topic, payload, packet) => {
      if (payload.length > LARGEST_PAYLOAD)
        book.refuse(`“${topic.slice(0, 100)}” carries ${payload.length} bytes.`);
      else {
        try {
          book.note(topic, payload.toString('utf8'), packet.retain);
        } catch (error) {
          book.refuse(`“${topic.slice(0, 100)}”: ${(error as Error).message}`);
        }
      }
    });
    await client.subscribeAsync('#', { qos: 0 });
    this.watchTimer = setInterval(() => {
      if (this.watching && this.watching.until < performance.now()) void this.endWatch();
    }, 2000);
  }

  private async endWatch(): Promise<void> {
    if (this.watchTimer) clearInterval(this.watchTimer);
    const { watching } = this;
    this.watching = null;
    await watching?.client.endAsync(true);
  }

  private async connect(): Promise<void> {
    try {
      const clientId = this.link.clientId || `loka-${process.pid}-${this.link.id}`;
      const options = await connectionOptions(this.link, this.networks, clientId);
      if (this.stopped) return;
      // With a name of its own, the broker keeps what comes while Loka is away.
      const client = mqtt.connect({
        ...options,
        clean: this.link.clientId === '',
        // A command is sent now or not at all.
        queueQoSZero: false,
        // After each connection all topics are subscribed to, kept session or not: the broker then tells what was last said.
        resubscribe: false,
      });
      this.client = client;
      this.attend(client);
    } catch (error) {
      this.failed(explainMqttFault(error, this.link));
      if (!this.stopped) this.retry = setTimeout(() => this.start(), RECONNECT);
    }
  }

  private attend(client: MqttClient): void {
    client.on('connect', ({ sessionPresent }) => {
      this.fault = null;
      this.health.answered(this.link.id, null, null);
      this.desk.resume({ kept: sessionPresent });
      this.subscribe(client, this.topics);
    });
    client.on('error', (error) => this.failed(explainMqttFault(error, this.link)));
    client.on('close', () => {
      if (this.stopped || this.fault !== null) return;
      this.failed({
        kind: 'connection lost',
        quality: QUALITY.disconnected,
        message: `The broker ${this.link.host} closed the connection; it is tried again every ${RECONNECT / 1000} s. Another program with the same client id looks like this.`,
        linkDown: true,
        exception: null,
      });
    });
    // The acknowledgement of QoS 1 is sent when the callback is called, so it waits for the store.
    client.handleMessage = (packet, done) => {
      const { topic, payload, retain, qos } = packet;
      // The edge: whatever a message holds, it is read or counted as misread, and acknowledged either way. Else the broker
      // would bring it for ever.
      let taken = false;
      try {
        if (payload.length > LARGEST_PAYLOAD) throw new Error(`it carries ${payload.length} bytes`);
        this.told.take(topic, payload.toString(), Date.now());
        taken = this.desk.take(topic, payload.toString(), Date.now(), { retained: retain });
      } catch (error) {
        this.health.misread(this.link.id, null, `“${topic.slice(0, 100)}”: ${(error as Error).message}`);
      }
      if (qos === 0 || !taken) return done();
      void this.stored().then(
        () => done(),
        (error: Error) => {
          this.owe();
          done(error);
        },
      );
    };
    this.desk.start();
  }

  /**
   * Some messages could not be kept and were not acknowledged. A broker brings those again only to a new connection, and
   * goes on with few of them open; so a new one is made as soon as things are kept again.
   */
  private owe(): void {
    this.owing ??= setInterval(() => {
      void this.stored().then(
        () => {
          this.oweNothing();
          this.fault = 'What could not be kept is asked for again.';
          this.client?.stream.destroy();
        },
        () => undefined, // still not: asked again
      );
    }, OWED_EVERY);
  }

  private oweNothing(): void {
    if (this.owing) clearInterval(this.owing);
    this.owing = null;
  }

  private failed(fault: Fault): void {
    this.fault = fault.message;
    this.health.failed(this.link.id, null, fault);
    this.desk.lost(fault.quality);
  }

  private linkFault(message: string): LinkFault {
    return new LinkFault({
      kind: 'connection lost',
      quality: QUALITY.disconnected,
      message,
      linkDown: true,
      exception: null,
    });
  }
}

/** Where and how a command or a setting is sent; null of what is only told. */
function sentAs(
  definition: MessageDefinition,
  value: number,
): { topic: string; payload: string; qos: 0 | 1 } | null {
  const qos = definition.qos ?? 1;
  if (isWritable(definition)) return { topic: definition.topic, payload: payloadFor(definition, value), qos };
  if (!isSetting(definition) || definition.setTopic === undefined) return null;
  return { topic: definition.setTopic, payload: settingPayloadFor(definition, value), qos };
}

/** Connects, and rejects with the reason when the first attempt fails. */
export function connectOnce(options: IClientOptions): Promise<MqttClient> {
  const host = isIP(options.host ?? '') === 6 ? `[${options.host}]` : options.host;
  return mqtt.connectAsync(`${options.protocol}://${host}:${options.port}`, options, false);
}

/** How to connect to the broker of a link. The name is resolved once, and only to addresses that are allowed. @throws HostError */
export async function connectionOptions(
  link: LinkEntity,
  networks: AllowedNetworks,
  clientId: string,
): Promise<IClientOptions> {
  const host = await networks.resolve(link.host);
  return {
    host,
    port: link.port,
    protocol: link.tls ? 'mqtts' : 'mqtt',
    protocolVersion: link.mqttVersion === '5' ? 5 : 4,
    clientId,
    connectTimeout: Math.max(1000, link.timeoutMs),
    reconnectPeriod: RECONNECT,
    ...(link.user ? { username: link.user } : {}),
    ...(link.secret ? { password: link.secret } : {}),
    ...(link.tls
      ? {
          ...(link.certificate ? { ca: link.certificate } : {}),
          ...(isIP(link.host) ? {} : { servername: link.host }),
        }
      : {}),
    ...(link.mqttVersion === '5'
      ? { properties: { sessionExpiryInterval: link.clientId ? 86_400 : 0 } }
      : {}),
  };
}
