import {
  IsBoolean,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Length,
  Matches,
  Max,
  Min,
  ValidateIf,
} from 'class-validator';
import type { Health } from './acquisition.js';
import { Versioned } from './versioned.js';

/** The ways in which devices are reached. */
export const LINK_KINDS = ['modbus-tcp', 'modbus-rtu-tcp', 'modbus-serial', 'mqtt', 'http-push'] as const;
export type LinkKind = (typeof LINK_KINDS)[number];
export const PARITIES = ['none', 'even', 'odd'] as const;
export const BAUD_RATES = [1200, 2400, 4800, 9600, 19200, 38400, 57600, 115200] as const;
export const MQTT_VERSIONS = ['3.1.1', '5'] as const;

export const isModbusKind = (kind: LinkKind): boolean => kind.startsWith('modbus');
/** Whether a link has a host and a port. */
export const isNetworkKind = (kind: LinkKind): boolean => kind !== 'modbus-serial' && kind !== 'http-push';

/** Kinds of link of which the same device may stand at another address. */
export const hasAddresses = (kind: LinkKind): boolean => kind === 'modbus-tcp' || kind === 'modbus-rtu-tcp';
const HOST = /^[A-Za-z0-9]([A-Za-z0-9.:-]{0,252}[A-Za-z0-9])?$/;
const HOST_MESSAGE = { message: 'A host is an address such as 192.168.1.40 or a name such as meter.local.' };

const ofNetwork = (link: LinkInput) => isNetworkKind(link.kind);
const ofSerial = (link: LinkInput) => link.kind === 'modbus-serial';
const ofMqtt = (link: LinkInput) => link.kind === 'mqtt';

/** A way to reach devices. Members that its kind has no use for keep their usual values. */
export class LinkInput extends Versioned {
  @IsString()
  @Length(1, 80, { message: 'Give the link a name of 1 to 80 letters, for example “Meter cabinet”.' })
  name!: string;

  @IsIn(LINK_KINDS, { message: 'Choose how the devices are reached.' })
  kind: LinkKind = 'modbus-tcp';

  @ValidateIf(ofNetwork)
  @IsString()
  @Matches(HOST, HOST_MESSAGE)
  host: string = '';

  @ValidateIf(ofNetwork)
  @IsInt({ message: 'A port is a whole number; Modbus TCP uses 502, MQTT 1883.' })
  @Min(1, { message: 'Ports begin at 1.' })
  @Max(65535, { message: 'The last port is 65535.' })
  port: number = 502;

  @IsInt({ message: 'The time-out is a whole number of milliseconds.' })
  @Min(50, { message: 'At least 50 ms.' })
  @Max(30_000, { message: 'At most 30 s.' })
  timeoutMs: number = 1000;

  @IsBoolean()
  enabled: boolean = true;

  /** How often a request that got no answer is made again before the device counts as failing. */
  @IsInt({ message: 'Retries are a whole number.' })
  @Min(0, { message: 'Not below zero.' })
  @Max(5, { message: 'At most 5.' })
  retries: number = 1;

  /** Rest between two requests, for devices that cannot take them one after the other. */
  @IsInt({ message: 'The pause is a whole number of milliseconds.' })
  @Min(0, { message: 'It is not negative.' })
  @Max(5000, { message: 'At most 5 s.' })
  pauseMs: number = 0;

  /** Registers that one request may ask for; the protocol allows 125, some devices fewer. */
  @IsInt({ message: 'The largest request is a whole number of registers.' })
  @Min(1, { message: 'At least one.' })
  @Max(125, { message: 'The protocol allows 125.' })
  maxWords: number = 125;

  /** Device file of a serial port. */
  @ValidateIf(ofSerial)
  @Matches(/^\/dev\/[A-Za-z0-9][A-Za-z0-9/._:-]{0,120}$/, {
    message: 'A serial port is a device file such as /dev/ttyUSB0.',
  })
  path: string = '';

  @ValidateIf(ofSerial)
  @IsIn(BAUD_RATES, { message: `One of ${BAUD_RATES.join(', ')}.` })
  baudRate: number = 9600;

  @ValidateIf(ofSerial)
  @IsIn(PARITIES)
  parity: (typeof PARITIES)[number] = 'none';

  @ValidateIf(ofSerial)
  @IsIn([1, 2], { message: '1 or 2.' })
  stopBits: number = 1;

  @ValidateIf(ofMqtt)
  @IsIn(MQTT_VERSIONS)
  mqttVersion: (typeof MQTT_VERSIONS)[number] = '3.1.1';

  @ValidateIf(ofMqtt)
  @IsBoolean()
  tls: boolean = false;

  /** Certificate of the authority that signed the broker's, PEM; empty for those that the machine trusts. */
  @ValidateIf(ofMqtt)
  @IsString()
  @Length(0, 20_000)
  certificate: string = '';

  @ValidateIf(ofMqtt)
  @IsString()
  @Length(0, 120, { message: 'At most 120 characters.' })
  user: string = '';

  /** Only taken in, never given out; missing keeps the one that is there. */
  @IsOptional()
  @IsString()
  @Length(0, 200, { message: 'At most 200 characters.' })
  password?: string;

  /** Under which the broker keeps what could not be delivered; empty for one that is made up. */
  @ValidateIf(ofMqtt)
  @IsString()
  @Length(0, 60, { message: 'At most 60 characters.' })
  clientId: string = '';
}

/** The first meter of a site: how it is reached, and as which unit. */
export class FirstMeterInput extends LinkInput {
  @IsInt({ message: 'A unit id is a whole number, most often 1.' })
  @Min(0, { message: 'Unit ids begin at 0.' })
  @Max(255, { message: 'The last unit id is 255.' })
  unit: number = 1;
}

export interface Link extends Omit<LinkInput, 'password'> {
  version: number;
  id: number;
  health: Health;
  hasPassword: boolean;
}

/** A link as it was made; the token of an HTTP push link is shown this once. */
export interface MadeLink {
  id: number;
  token?: string;
}

/** Where a device like one that is there stands. */
export class LinkAddress {
  @Matches(HOST, HOST_MESSAGE)
  host!: string;

  @IsInt({ message: 'A port is a whole number; Modbus TCP uses 502.' })
  @Min(1, { message: 'Ports begin at 1.' })
  @Max(65535, { message: 'The last port is 65535.' })
  port!: number;
}
