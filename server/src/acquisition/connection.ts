import { isBitKind, type Span } from '@loka/core/registers';
import modbus from 'modbus-serial';
import type { AllowedNetworks } from '../security/allowedNetworks.js';

const ModbusRTU = modbus.default;
type Client = InstanceType<typeof ModbusRTU>;

export interface Address {
  host: string;
  port: number;
  timeoutMs: number;
}

/** One Modbus TCP connection. Requests must not overlap; whoever holds it asks one thing after the other. */
export class Connection {
  private client: Client | null = null;

  constructor(
    private readonly address: Address,
    private readonly networks: AllowedNetworks,
  ) {}

  /** Connects where it is not yet. @throws HostError, or the error of the socket */
  async open(): Promise<void> {
    if (this.client?.isOpen) return;
    const ip = await this.networks.resolve(this.address.host);
    const client = new ModbusRTU();
    client.on('error', () => undefined); // the request under way rejects as well and is explained there
    client.setTimeout(this.address.timeoutMs);
    try {
      await withTimeout(
        client.connectTCP(ip, { port: this.address.port, timeout: this.address.timeoutMs }),
        this.address.timeoutMs + 500,
      );
    } catch (error) {
      client.destroy(() => undefined);
      throw error;
    }
    this.client = client;
  }

  /** The words (or bits, 0 and 1) of a span. */
  read(unit: number, { kind, start, count }: Span): Promise<number[]> {
    return this.ask(unit, async (client) => {
      if (isBitKind(kind)) {
        const { data } =
          kind === 'coil'
            ? await client.readCoils(start, count)
            : await client.readDiscreteInputs(start, count);
        return data.slice(0, count).map(Number);
      }
      const { data } =
        kind === 'holding'
          ? await client.readHoldingRegisters(start, count)
          : await client.readInputRegisters(start, count);
      return data;
    });
  }

  /** Writes one coil, or one or several holding registers. */
  write(unit: number, kind: 'coil' | 'holding', start: number, words: number[]): Promise<void> {
    return this.ask(unit, async (client) => {
      if (kind === 'coil') await client.writeCoil(start, words[0] === 1);
      else if (words.length === 1) await client.writeRegister(start, words[0] as number);
      else await client.writeRegisters(start, words);
    });
  }

  /** Lets the connection go at once. The library does not call back for a socket that is closed already, so nothing is awaited. */
  close(): void {
    this.client?.destroy(() => undefined);
    this.client = null;
  }

  private async ask<T>(unit: number, question: (client: Client) => Promise<T>): Promise<T> {
    await this.open();
    const client = this.client as Client;
    client.setID(unit);
    try {
      return await question(client);
    } catch (error) {
      // The library lets a request run into its time-out when the socket is closed under it.
      if ((error as { modbusCode?: number }).modbusCode === undefined && !client.isOpen)
        throw Object.assign(new Error('connection closed'), { code: 'ECONNRESET' });
      throw error;
    }
  }
}

/** The library's own connect time-out does not cover every case of a host that swallows packets. */
async function withTimeout<T>(promise: Promise<T>, ms: number): Promise<T> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<never>((_, reject) => {
    timer = setTimeout(
      () => reject(Object.assign(new Error('connect ETIMEDOUT'), { code: 'ETIMEDOUT' })),
      ms,
    );
  });
  try {
    return await Promise.race([promise, late]);
  } finally {
    clearTimeout(timer);
  }
}
