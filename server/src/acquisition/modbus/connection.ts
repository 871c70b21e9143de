import type { LinkInput } from '@loka/contract/links';
import { isBitKind, MAX_BITS, type Span } from '@loka/core/registers';
import modbus from 'modbus-serial';
import type { EventEmitter } from 'node:events';
import { Socket } from 'node:net';
import pTimeout from 'p-timeout';
import type { AllowedNetworks } from '../../security/allowedNetworks.js';

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
/** How the library names a unit that gives no answer, and a connection that is closed. */
export const TIMED_OUT = 'TransactionTimedOutError';
export const PORT_NOT_OPEN = 'PortNotOpenError';
/** An answer may be later than its time-out by this many more of them. */
const LATEST = 4;
/** A unit that has not answered more often than this in a row is dead. */
const ALIVE = 2;
/** A line is quiet when nothing has come for this time, ms: longer than the pause within a frame at any speed. */
const QUIET = 50;
/** A port that takes longer to close is given up, ms. */
const CLOSING = 500;

/** One Modbus connection: TCP, RTU over TCP, or a serial line. Requests must not overlap; whoever holds it asks one thing after the other. */
export class Connection {
  private client: Client | null = null;
  private readyAt = 0;
  /** An answer on a serial line that did not come in time may still come, and would be taken for the next one. */
  private settling: Promise<void> | null = null;
  /** How often in a row a unit has not answered. */
  private readonly silences = new Map<number, number>();
  /** A serial port can only be opened again when it has been closed. */
  private closed: Promise<void> = Promise.resolve();

  constructor(
    private readonly address: ModbusAddress,
    private readonly networks: AllowedNetworks,
  ) {}

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
    const silence = (error as Error).name === TIMED_OUT;
    if (this.address.kind !== 'modbus-serial' || !silence) this.close();
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
    if (this.settling) {
      await this.settling;
      this.settling = null;
      drain(client);
    }
    client.setID(unit);
    try {
      const answer = await question(client);
      this.silences.delete(unit);
      return answer;
    } catch (error) {
      // Nobody asks anything until what comes late has come, and is thrown away. One that has answered lately is waited
      // for longer; one that is dead says nothing, and the others on the line wait for it no longer than they must.
      if (this.address.kind === 'modbus-serial' && (error as Error).name === TIMED_OUT) {
        const silent = (this.silences.get(unit) ?? 0) + 1;
        this.silences.set(unit, silent);
        this.settling = settled(client, this.address.timeoutMs * (silent <= ALIVE ? LATEST : 1));
      }
      // The library lets a request run into its time-out when the socket is closed under it.
      if ((error as { modbusCode?: number }).modbusCode === undefined && !client.isOpen)
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
  _client?: EventEmitter & { destroy?: () => void };
  /** What has come over a serial line and has not been taken for an answer. */
  _buffer?: Buffer;
}

/** Resolves when a unit has said what it had still to say and the line is quiet again, or after so many milliseconds. */
function settled(client: Client, longest: number): Promise<void> {
  const line = (client as unknown as { _port?: Port })._port?._client;
  return new Promise((resolve) => {
    let quiet: NodeJS.Timeout | undefined;
    const end = () => {
      clearTimeout(quiet);
      clearTimeout(limit);
      line?.off('data', heard);
      resolve();
    };
    const limit = setTimeout(end, longest);
    const heard = () => {
      clearTimeout(quiet);
      quiet = setTimeout(end, QUIET);
    };
    line?.on('data', heard);
  });
}

/** Throws away what has come unasked for. */
function drain(client: Client): void {
  const port = (client as unknown as { _port?: Port })._port;
  if (port?._buffer) port._buffer = Buffer.alloc(0);
}

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
