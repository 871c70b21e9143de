import type { LinkInput } from '@loka/contract/links';
import { isBitKind, MAX_BITS, type Span } from '@loka/core/registers';
import modbus from 'modbus-serial';
import { Socket } from 'node:net';
import pTimeout from 'p-timeout';
import type { AllowedNetworks } from '../../security/allowedNetworks.js';
import { OUT_OF_STEP, Step, TIMED_OUT } from './step.js';

const ModbusRTU = modbus.default;
type Client = InstanceType<typeof ModbusRTU>;

/** What of a link decides how its devices are reached. */
export type ModbusAddress = Pick<
  LinkInput,
  | 'kind'
  | 'host'
  | 'port'
  | 'timeoutMs'
  | 'path'
  | 'baudRate'
  | 'parity'
  | 'stopBits'
  | 'maxWords'
  | 'pauseMs'
>;

/** The code of a serial port that could not be opened. */
export const SERIAL_NOT_OPEN = 'SERIAL_NOT_OPEN';
/** How the library names a connection that is closed. */
export const PORT_NOT_OPEN = 'PortNotOpenError';
/** A port that takes longer to close is given up, ms. */
const CLOSING = 500;

/** One Modbus connection: TCP, RTU over TCP, or a serial line. Requests must not overlap; whoever holds it asks one thing after the other. */
export class Connection {
  private client: Client | null = null;
  private readyAt = 0;
  /** For how long the last answer was looked at before it was believed, ms: that much earlier it came. */
  doubtedFor = 0;
  /** Of a framing that does not number its questions. */
  private readonly step: Step | null;
  /** A serial port can only be opened again when it has been closed. */
  private closed: Promise<void> = Promise.resolve();

  constructor(
    private readonly address: ModbusAddress,
    private readonly networks: AllowedNetworks,
  ) {
    this.step = address.kind === 'modbus-tcp' ? null : new Step(address);
  }

  /** Connects where it is not yet. @throws HostError, or the error of the socket */
  async open(): Promise<void> {
    if (this.client?.isOpen) return;
    const client = new ModbusRTU();
    client.on('error', () => undefined); // the request under way rejects as well and is explained there
    client.setTimeout(this.address.timeoutMs);
    try {
      // The library's own time-out does not cover every case of a host that swallows packets.
      const { done } = await this.connect(client);
      await pTimeout(done, {
        milliseconds: this.address.timeoutMs + 500,
        message: Object.assign(new Error('connect ETIMEDOUT'), { code: 'ETIMEDOUT' }),
      });
    } catch (error) {
      shut(client, () => undefined);
      // Of a serial port that cannot be opened the library gives no code.
      if (this.address.kind === 'modbus-serial' && !(error as { code?: string }).code)
        throw Object.assign(error as Error, { code: SERIAL_NOT_OPEN });
      throw error;
    }
    this.client = client;
  }

  private async connect(client: Client): Promise<{ done: Promise<void> }> {
    const { kind, host, port, path, baudRate, parity, stopBits, timeoutMs } = this.address;
    if (kind === 'modbus-serial') {
      this.networks.checkSerial(path);
      await this.closed;
      return {
        done: client.connectRTUBuffered(path, { baudRate, parity, stopBits: stopBits as 1 | 2, dataBits: 8 }),
      };
    }
    const ip = await this.networks.resolve(host);
    return {
      done:
        kind === 'modbus-rtu-tcp'
          ? // Frames of the serial line as they are; what the library calls RTU over TCP puts a TCP header before them.
            client.connectTelnet(ip, { port })
          : client.connectTCP(ip, { port, timeout: timeoutMs } as never),
    };
  }

  /**
   * Reads, and asks again when a unit does not answer: one lost packet, or a connection that the device has closed, is no
   * fault that anybody has to see.
   */
  async readPatiently(unit: number, span: Span, retries: number): Promise<number[]> {
    for (let left = retries; ; left--) {
      try {
        return await this.read(unit, span);
      } catch (error) {
        if (isException(error) || left <= 0) throw error;
      }
    }
  }

  /** The words (or bits, 0 and 1) of a span, asked for in as many requests as the largest allowed one calls for. */
  async read(unit: number, { kind, start, count }: Span): Promise<number[]> {
    const most = isBitKind(kind) ? MAX_BITS : this.address.maxWords;
    if (count <= most) return this.readOnce(unit, { kind, start, count });
    const words: number[] = [];
    for (let at = 0; at < count; at += most)
      words.push(
        ...(await this.readOnce(unit, { kind, start: start + at, count: Math.min(most, count - at) })),
      );
    return words;
  }

  private readOnce(unit: number, { kind, start, count }: Span): Promise<number[]> {
    return this.ask(unit, async (client) => {
      if (isBitKind(kind)) {
        const { data } =
          kind === 'coil'
            ? await client.readCoils(start, count)
            : await client.readDiscreteInputs(start, count);
        return complete(data.slice(0, count).map(Number), count);
      }
      const { data } =
        kind === 'holding'
          ? await client.readHoldingRegisters(start, count)
          : await client.readInputRegisters(start, count);
      return complete(data, count);
    });
  }

  /** Writes one coil, or one or several holding registers; `multiple` by the requests for several where it is a single one. */
  write(
    unit: number,
    kind: 'coil' | 'holding',
    start: number,
    words: number[],
    multiple = false,
  ): Promise<void> {
    return this.ask(unit, async (client) => {
      if (kind === 'coil' && multiple) await client.writeCoils(start, [words[0] === 1]);
      else if (kind === 'coil') await client.writeCoil(start, words[0] === 1);
      else if (words.length === 1 && !multiple) await client.writeRegister(start, words[0] as number);
      else await client.writeRegisters(start, words);
    });
  }

  /** What a device says of itself (function 43/14, basic): maker, product, version. */
  identify(unit: number): Promise<string[]> {
    return this.ask(unit, async (client) => {
      const { data } = await client.readDeviceIdentification(1, 0);
      return (Array.isArray(data) ? data : Object.values(data)).map(String);
    });
  }

  /**
   * Lets the connection go after an answer that did not come, so that it cannot be taken for the next one when it
   * comes late. A serial line stays open: it has no connection to be lost, and other units are waiting on it.
   */
  letGo(error: unknown): void {
    const { name, code } = error as Error & { code?: string };
    const mayComeLate = name === TIMED_OUT || code === OUT_OF_STEP;
    if (this.address.kind !== 'modbus-serial' || !mayComeLate) this.close();
  }

  /** Closes at once. The library does not call back for a socket that is closed already, so nobody waits for it. */
  close(): void {
    const { client } = this;
    this.client = null;
    if (!client) return;
    this.closed = new Promise((resolve) => {
      shut(client, resolve);
      setTimeout(resolve, CLOSING).unref();
    });
  }

  private async ask<T>(unit: number, question: (client: Client) => Promise<T>): Promise<T> {
    if (!this.client?.isOpen) await this.open();
    const client = this.client as Client;
    const wait = this.readyAt - performance.now();
    if (wait > 0) await new Promise((resolve) => setTimeout(resolve, wait));
    await this.step?.ready(client);
    client.setID(unit);
    try {
      const answer = await question(client);
      const came = performance.now();
      await this.step?.answered(client, unit);
      this.doubtedFor = performance.now() - came;
      return answer;
    } catch (error) {
      if ((error as Error).name === TIMED_OUT) this.step?.unanswered(client, unit);
      // What a unit refuses it has answered as well.
      if (isException(error)) await this.step?.answered(client, unit);
      // The library lets a request run into its time-out when the socket is closed under it.
      if (!isException(error) && !client.isOpen)
        throw Object.assign(new Error('connection closed'), { code: 'ECONNRESET' });
      throw error;
    } finally {
      this.readyAt = Math.max(this.readyAt, performance.now() + this.address.pauseMs);
    }
  }
}

/** What the library keeps a connection in: for TCP it can cut it, for the others only close it. */
interface Port {
  destroy?: unknown;
  /** The socket, or the serial port, of a framing that has no destroy of its own. */
  _client?: unknown;
}

/** An exception of the protocol is an answer; of all else nothing came back. */
export const isException = (error: unknown): boolean =>
  (error as { modbusCode?: number }).modbusCode !== undefined;

/** Cuts a socket at once, whoever is at its other end; a serial port is closed in the proper way. */
function shut(client: Client, done: () => void): void {
  const port = (client as unknown as { _port?: Port })._port;
  if (port?.destroy !== undefined) return void client.destroy(done);
  client.close(done);
  const inner = port?._client;
  if (inner instanceof Socket) inner.destroy();
}

/** A device that answers with fewer registers than it was asked for must not be taken at its word. */
function complete(words: number[], count: number): number[] {
  if (words.length !== count)
    throw new Error(`it sent ${words.length} registers where ${count} were asked for`);
  return words;
}
