import { Inject, Injectable } from '@nestjs/common';
import { lookup } from 'node:dns/promises';
import { BlockList, isIP } from 'node:net';
import { networkInterfaces } from 'node:os';
import { posix } from 'node:path';
import { CONFIG, ConfigError, type Config } from '../config.js';

/** Thrown when a host cannot be resolved, or lies where the owner does not allow links to go. */
export class HostError extends Error {
  override name = 'HostError';
  constructor(
    readonly code: 'host-unknown' | 'host-forbidden',
    message: string,
  ) {
    super(message);
  }
}

/** Where links may go: the owner's networks, by default loopback and the machine's own subnets. */
@Injectable()
export class AllowedNetworks {
  private readonly list = new BlockList();
  private readonly words: string[];
  private readonly serial: string[];

  constructor(@Inject(CONFIG) config: Config) {
    this.serial = config.allowedSerial ?? ['/dev/tty', '/dev/serial/'];
    this.words = config.allowedNetworks ?? ['127.0.0.0/8', '::1/128', ...ownSubnets()];
    for (const network of this.words) {
      const [address, bits] = network.split('/');
      const family = isIP(address ?? '');
      const most = family === 6 ? 128 : 32;
      if (family === 0 || !/^\d+$/.test(bits ?? '') || Number(bits) > most)
        throw new ConfigError(`LOKA_ALLOWED_NETWORKS: “${network}” is not a network such as 192.168.1.0/24`);
      this.list.addSubnet(address as string, Number(bits), family === 6 ? 'ipv6' : 'ipv4');
    }
  }

  /** Refuses device files that the owner does not allow. @throws HostError */
  checkSerial(path: string): void {
    const plain = posix.normalize(path);
    if (!this.serial.some((prefix) => plain.startsWith(prefix)))
      throw new HostError(
        'host-forbidden',
        `${path} is not among the serial ports that links may use: ${this.serial.join(', ')}. The owner sets them in LOKA_ALLOWED_SERIAL.`,
      );
  }

  /** Whether an address is one that links may reach. */
  allows(address: string): boolean {
    return isIP(address) !== 0 && this.list.check(address, isIP(address) === 6 ? 'ipv6' : 'ipv4');
  }

  /** The networks that links may reach, for showing them. */
  get networks(): readonly string[] {
    return this.words;
  }

  /** The address to connect to for a host; the name is resolved here and never again. @throws HostError */
  async resolve(host: string): Promise<string> {
    const address = isIP(host) ? host : await this.lookup(host);
    if (!this.allows(address))
      throw new HostError(
        'host-forbidden',
        `${host}${host === address ? '' : ` (${address})`} is not in the networks that links may reach: ${this.words.join(', ')}. The owner sets them in LOKA_ALLOWED_NETWORKS.`,
      );
    return address;
  }

  private async lookup(host: string): Promise<string> {
    try {
      return (await lookup(host)).address;
    } catch {
      throw new HostError(
        'host-unknown',
        `No machine is called “${host}”. Check the spelling, or type its address.`,
      );
    }
  }
}

function ownSubnets(): string[] {
  return Object.values(networkInterfaces())
    .flatMap((list) => list ?? [])
    .filter((entry) => !entry.internal && entry.family === 'IPv4' && entry.cidr !== null)
    .map((entry) => entry.cidr as string);
}
