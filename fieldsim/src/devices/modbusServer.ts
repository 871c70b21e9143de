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

/** One device as a Modbus TCP server on loopback, with its faults. */
export class ModbusDeviceServer {
  fault: Fault = { kind: 'none' };
  private server: ServerTCP | null = null;
  private frozen = new Map<number, number>();

  constructor(
    readonly device: FieldDevice,
    readonly port: number,
  ) {}

  async start(): Promise<void> {
    await portMustBeFree(this.port, this.device.name);
    const refuse = (code: number): never => {
      throw Object.assign(new Error(`exception ${code}`), { modbusErrorCode: code });
    };
    const device = this.device;
    const register = (address: number) =>
      this.answer(() => this.frozenWord(address) ?? device.register(address) ?? refuse(2));
    const server = new ServerTCP(
      {
        getInputRegister: register,
        getHoldingRegister: register,
        getCoil: (address: number) => this.answer(() => device.bit('coil', address) ?? refuse(2)),
        getDiscreteInput: (address: number) =>
          this.answer(() => device.bit('discrete', address) ?? refuse(2)),
        setCoil: (address: number, value: boolean) =>
          this.answer(() => {
            if (!device.writeCoil(address, value)) refuse(2);
          }),
        setRegister: () => this.answer(() => refuse(2)),
      },
      { host: '127.0.0.1', port: this.port, unitID: device.unit, debug: false },
    );
    server.on('socketError', () => undefined); // a client that went away is no concern of a meter
    await new Promise<void>((resolve, reject) => {
      server.on('initialized', () => resolve());
      server.on('serverError', (error) => reject(error ?? new Error(`${device.name} could not listen`)));
    });
    this.server = server;
  }

  async stop(): Promise<void> {
    const server = this.server;
    this.server = null;
    if (server) await new Promise<void>((resolve) => server.close(() => resolve()));
  }

  async setFault(fault: Fault): Promise<void> {
    this.frozen = new Map();
    if (fault.kind === 'stuck')
      for (let a = 0; a < 200; a++) {
        const word = this.device.register(a);
        if (word !== undefined) this.frozen.set(a, word);
      }
    this.fault = fault;
    if (fault.kind === 'down') await this.stop();
    else if (!this.server) await this.start();
  }

  private frozenWord = (address: number): number | undefined =>
    this.fault.kind === 'stuck' ? this.frozen.get(address) : undefined;

  private answer<T>(give: () => T): Answer<T> {
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
