import mqtt, { type MqttClient } from 'mqtt';

/** What can be made to go wrong with a device that reports by messages. */
export type NodeFault = 'none' | 'silent' | 'down' | 'garbled';
export const NODE_FAULTS = ['none', 'silent', 'down', 'garbled'] as const;

/** What a node can be told, and how it says what has come of it. */
export interface NodeCommand {
  topic: string;
  take(payload: string): void;
  state(): { topic: string; payload: string };
}

/** What a node of the building publishes, and what it listens to. */
export interface NodeSpec {
  name: string;
  /** How often it reports, ms. */
  everyMs(): number;
  /** Topic and payload of its report. */
  report(): { topic: string; payload: string };
  /** Where it says whether it is there, by its last will when it goes without a word. */
  online?: string;
  /** Topics of its commands and settings, and what it does with one; the state that follows is published, retained. */
  commands?: NodeCommand[];
  values(): Record<string, number>;
}

/** A device with a radio: connects to the building's broker as any client does. */
export class MessageNode {
  private fault: NodeFault = 'none';
  private client: MqttClient | null = null;
  private timer: NodeJS.Timeout | null = null;

  constructor(
    readonly spec: NodeSpec,
    private readonly port: number,
  ) {}

  async start(): Promise<void> {
    const { spec } = this;
    const client = await mqtt.connectAsync(`mqtt://127.0.0.1:${this.port}`, {
      clientId: `node-${spec.name}`,
      reconnectPeriod: 1000,
      ...(spec.online
        ? { will: { topic: spec.online, payload: Buffer.from('no'), qos: 1, retain: true } }
        : {}),
    });
    this.client = client;
    client.on('error', () => undefined); // a broker that is away is tried again
    if (spec.online) await client.publishAsync(spec.online, 'yes', { qos: 1, retain: true });
    const { commands = [] } = spec;
    if (commands.length > 0) {
      client.on('message', (topic, payload) => this.obey(topic, payload.toString()));
      await client.subscribeAsync(
        commands.map((c) => c.topic),
        { qos: 1 },
      );
      for (const command of commands) this.tellState(command);
    }
    this.goOn();
  }

  /** Reports now, and again after its interval, which may be another by then. */
  private goOn(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(() => this.goOn(), this.spec.everyMs());
    this.report();
  }

  async stop(): Promise<void> {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    await this.client?.endAsync(true);
    this.client = null;
  }

  get currentFault(): NodeFault {
    return this.fault;
  }

  async setFault(fault: NodeFault): Promise<void> {
    const wasDown = this.fault === 'down';
    this.fault = fault;
    if (fault === 'down') {
      // Without a word: the broker finds out, and publishes the last will.
      this.client?.stream.destroy();
      await this.stop();
    } else if (wasDown) await this.start();
  }

  private obey(topic: string, payload: string): void {
    if (this.fault === 'silent') return;
    const command = this.spec.commands?.find((c) => c.topic === topic);
    if (!command) return;
    command.take(payload);
    this.tellState(command);
    this.goOn();
  }

  private tellState(command: NodeCommand): void {
    const { topic, payload } = command.state();
    this.client?.publish(topic, payload, { qos: 1, retain: true });
  }

  private report(): void {
    if (this.fault === 'silent' || !this.client?.connected) return;
    const { topic, payload } = this.spec.report();
    this.client.publish(topic, this.fault === 'garbled' ? `${payload.slice(0, -3)}` : payload, { qos: 1 });
  }
}
