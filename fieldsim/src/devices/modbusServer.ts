import { createServer as probe } from 'node:net';
import { ServerTCP } from 'modbus-serial';
import type { FieldDevice } from './device.js';

/** What can be made to go wrong with a device. */
export type Fault =
  | { kind: 'none' }
  | { kind: 'down' }
  | { kind: 'silent' }
  | { kind: 'slow'; ms: number }
  | { kind: 'exception'; code: number }
  | { kind: 'stuck' };

export const FAULT_KINDS = ['none', 'down', 'silent', 'slow', 'exception', 'stuck'] as const;

type Answer<T> = Promise<T>;

/** Exception with which a gateway says that nothing answers behind it (V1.1b3, section 7). */
const NOBODY_BEHIND = 11;

/** One address as a Modbus TCP server on loopback, with one device or several units behind a gateway, and its faults. */
export class ModbusDeviceServer {
  fault: Fault = { kind: 'none' };
  /** Units behind the gateway that give no answer. */
  readonly silentUnits = new Set<number>();
  private server: ServerTCP | null = null;
  private frozen = new Map<string, number>();

  constructor(
    readonly name: string,
    readonly devices: readonly FieldDevice[],
    readonly port: number,
  ) {}

  async start(): Promise<void> {
    await portMustBeFree(this.port, this.name);
    const register = (address: number, unit: number) =>
      this.answer(unit, (d) => this.frozenWord(unit, address) ?? d.register(address) ?? refuse(2));
    const [only, ...more] = this.devices;
    const server = new ServerTCP(
      {
        getInputRegister: register,
        getHoldingRegister: register,
        getCoil: (address: number, unit: number) =>
          this.answer(unit, (d) => d.bit('coil', address) ?? refuse(2)),
        getDiscreteInput: (address: number, unit: number) =>
          this.answer(unit, (d) => d.bit('discrete', address) ?? refuse(2)),
        setCoil: (address: number, value: boolean, unit: number) =>
          this.answer(unit, (d) => {
            if (!d.writeCoil(address, value)) refuse(2);
          }),
        setRegister: (address: number, value: number, unit: number) =>
          this.answer(unit, (d) => {
            // Either there is no such register, or it does not take the value.
            if (!d.writeRegister?.(address, value)) refuse(d.register(address) === undefined ? 2 : 3);
          }),
        readDeviceIdentification: (unit: number) =>
          this.answer(unit, ({ identification }) => {
            const [maker, product, version] = identification ?? refuse(1);
            return { 0: maker, 1: product, 2: version };
          }),
      } as ConstructorParameters<typeof ServerTCP>[0],
      // 255 takes every unit id; a single device only answers to its own.
      { host: '127.0.0.1', port: this.port, unitID: more.length > 0 ? 255 : (only?.unit ?? 1), debug: false },
    );
    server.on('socketError', () => undefined); // a client that went away is no concern of a meter
    await new Promise<void>((resolve, reject) => {
      server.on('initialized', () => resolve());
      server.on('serverError', (error) => reject(error ?? new Error(`${this.name} could not listen`)));
    });
    this.server = server;
  }

  private device(unit: number): FieldDevice | undefined {
    return this.devices.find((d) => d.unit === unit);
  }

  async stop(): Promise<void> {
    const server = this.server;
    this.server = null;
    if (server) await new Promise<void>((resolve) => server.close(() => resolve()));
  }

  async setFault(fault: Fault): Promise<void> {
    this.frozen = new Map();
    if (fault.kind === 'stuck')
      for (const device of this.devices)
        for (let a = 0; a < 200; a++) {
          const word = device.register(a);
          if (word !== undefined) this.frozen.set(`${device.unit}/${a}`, word);
        }
    this.fault = fault;
    if (fault.kind === 'down') await this.stop();
    else if (!this.server) await this.start();
  }

  private frozenWord = (unit: number, address: number): number | undefined =>
    this.fault.kind === 'stuck' ? this.frozen.get(`${unit}/${address}`) : undefined;

  private answer<T>(unit: number, ask: (device: FieldDevice) => T): Answer<T> {
    if (this.silentUnits.has(unit)) return new Promise(() => undefined);
    const give = (): T => ask(this.device(unit) ?? refuse(NOBODY_BEHIND));
    switch (this.fault.kind) {
      case 'silent':
        return new Promise(() => undefined);
      case 'exception':
        return Promise.reject(Object.assign(new Error('exception'), { modbusErrorCode: this.fault.code }));
      case 'slow': {
        const { ms } = this.fault;
        return new Promise((resolve, reject) =>
          setTimeout(() => {
            try {
              resolve(give());
            } catch (error) {
              reject(error as Error);
            }
          }, ms),
        );
      }
      default:
        return new Promise((resolve) => resolve(give()));
    }
  }
}

const refuse = (code: number): never => {
  throw Object.assign(new Error(`exception ${code}`), { modbusErrorCode: code });
};

/** ServerTCP reports a taken port only as an event without words; this says which one it is. */
function portMustBeFree(port: number, name: string): Promise<void> {
  return new Promise((resolve, reject) => {
    const server = probe();
    server.once('error', (error) =>
      reject(new Error(`port ${port} for ${name} cannot be used: ${error.message}`)),
    );
    server.listen(port, '127.0.0.1', () => server.close(() => resolve()));
  });
}
