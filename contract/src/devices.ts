import type { Phase } from '@loka/core/quantities';
import { PHASES } from '@loka/core/quantities';
import type { AnyDefinition } from '@loka/core/points';
import type { RegisterKind, Snapshots } from '@loka/core/registers';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
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
  ValidateNested,
} from 'class-validator';
import { PointDefinitionInput } from './registers.js';

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
export class LinkInput {
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
  @Min(0, { message: 'At least none.' })
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

/** Kinds of fault, for counting. */
export const FAULT_KINDS = [
  'time-out',
  'refused',
  'unreachable',
  'connection lost',
  'exception',
  'not understood',
  'silent',
  'not allowed',
] as const;
export type FaultKind = (typeof FAULT_KINDS)[number];

export interface FaultCount {
  kind: FaultKind;
  count: number;
  /** The last one in words, and when, UTC ms. */
  last: string;
  at: number;
}

/** How a link or a device fares. */
export interface Health {
  /** Partly: it answers, and for some of its requests or topics it fails. */
  state: 'answering' | 'partly' | 'failing' | 'idle' | 'off';
  /** Since when it has been in this state, UTC ms. */
  since: number;
  /** Last fault in words, with what to look at; null while all is well. */
  fault: string | null;
  /** Median and 95th percentile of the response times of the last requests, ms; null for devices that report by themselves. */
  responseMs: number | null;
  response95Ms: number | null;
  /** Requests, or messages, a second over the last ten seconds. */
  perSecond: number;
  /** Faults since the link was started, by kind. */
  faults: FaultCount[];
}

export interface Link extends Omit<LinkInput, 'password'> {
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

/** Where on its link a device is: by its unit id, or by the topic with which all that it publishes begins. */
export class DevicePlace {
  @IsInt({ message: 'The unit id is a whole number.' })
  @Min(0, { message: 'Unit ids begin at 0.' })
  @Max(255, { message: 'The last unit id is 255.' })
  unit: number = 1;

  /** Base topic of a device that reports by messages. */
  @IsString()
  @Length(0, 200, { message: 'At most 200 characters.' })
  @Matches(/^[^+#]*$/, { message: 'A base topic has no + and no #.' })
  topic: string = '';
}

/** What tells one of several like devices from the others. */
export class BatchMember extends DevicePlace {
  @IsString()
  @Length(1, 80, { message: 'Names have 1 to 80 letters.' })
  name!: string;

  /** Missing: on the same link. */
  @IsOptional()
  @ValidateNested()
  @Type(() => LinkAddress)
  address?: LinkAddress;
}

export class DeviceInput extends DevicePlace {
  @IsInt()
  linkId!: number;

  @IsInt({ message: 'Choose a register map.' })
  mapId!: number;

  @IsString()
  @Length(1, 80, { message: 'Give the device a name of 1 to 80 letters, for example “Main meter”.' })
  name!: string;
}

/** Several devices like one that is there. */
export class DeviceBatch {
  @IsInt()
  likeId!: number;

  @IsArray()
  @ArrayMinSize(1, { message: 'Say at least one.' })
  @ArrayMaxSize(100, { message: 'At most 100 at once.' })
  @ValidateNested({ each: true })
  @Type(() => BatchMember)
  members!: BatchMember[];
}

/** Devices that were made at once, with the links that were made for them, to be taken back. */
export class BatchTakenBack {
  @IsArray()
  @ArrayMinSize(1, { message: 'Say at least one.' })
  @ArrayMaxSize(100, { message: 'At most 100 at once.' })
  @IsInt({ each: true })
  ids!: number[];

  @IsArray()
  @ArrayMaxSize(100, { message: 'At most 100 at once.' })
  @IsInt({ each: true })
  linkIds!: number[];
}

/** Which devices take over the settings of one. */
export class SettingsCopy {
  @IsArray()
  @ArrayMinSize(1, { message: 'Choose at least one device.' })
  @IsInt({ each: true })
  deviceIds!: number[];
}

export interface Device extends DeviceInput {
  id: number;
  health: Health;
  pointIds: number[];
}

export class PointAssignment {
  @IsOptional()
  @IsInt()
  nodeId!: number | null;

  /** Conductor it is on here; null leaves what the map says. */
  @IsOptional()
  @IsIn(PHASES)
  phase!: Phase | null;
}

/** A point with the place that it is given. */
export class PlacedPoint extends PointAssignment {
  @IsInt()
  id!: number;
}

/** Points that are given their places at once: all of them, or none. */
export class PointAssignments {
  @IsArray()
  @ArrayMinSize(1, { message: 'Say at least one point.' })
  @ArrayMaxSize(1000, { message: 'At most 1000 points at once.' })
  @ValidateNested({ each: true })
  @Type(() => PlacedPoint)
  points!: PlacedPoint[];
}

/** Where all points of a device belong. */
export class DeviceAssignment {
  @IsOptional()
  @IsInt()
  nodeId!: number | null;
}

/** A point: a value of a device, with what its map says of it. */
export interface Point {
  id: number;
  /** Null for a virtual meter. */
  deviceId: number | null;
  deviceName: string;
  key: string;
  definition: AnyDefinition;
  nodeId: number | null;
  /** On this conductor; the map's, unless the assignment says otherwise. */
  phase: Phase | null;
  calibrated: boolean;
}

/** Reads registers once, before anything is saved. */
export class TrialReadInput {
  @IsInt()
  linkId!: number;

  @IsInt()
  @Min(0)
  @Max(255)
  unit!: number;

  @IsArray()
  @ArrayMaxSize(200)
  @ValidateNested({ each: true })
  @Type(() => PointDefinitionInput)
  points!: PointDefinitionInput[];
}

export interface TrialRead {
  key: string;
  /** Words as they came over the wire; null when they did not. */
  words: number[] | null;
  /** Value in base units. */
  value: number | null;
  /** The text, for a string. */
  text?: string;
  /** Why there is no value, or why it cannot be right. */
  message: string | null;
}

/** Reads words around an address several times, for finding out what they mean. */
export class WordsReadInput {
  @IsInt()
  linkId!: number;

  @IsInt()
  @Min(0)
  @Max(255)
  unit!: number;

  /** On the wire. */
  @IsInt()
  @Min(0)
  @Max(65535)
  address!: number;

  /** Last address of a range in which the value may begin; missing for the one address. */
  @IsOptional()
  @IsInt({ message: 'The last address is a whole number.' })
  @Min(0)
  @Max(65535)
  last?: number;
}

export interface WordsRead {
  /** One for each kind of register that answered. */
  snapshots: Snapshots[];
  /** Why the others did not. */
  failures: { kind: RegisterKind; message: string }[];
}

/** When a known load was switched on or off. */
export class MarkInput {
  @IsInt()
  t!: number;

  @IsBoolean()
  on!: boolean;
}

/** Which values of some devices follow a load that is switched. */
export class MovesInput {
  @IsArray()
  @ArrayMinSize(1, { message: 'Choose a device.' })
  @ArrayMaxSize(100)
  @IsInt({ each: true })
  deviceIds!: number[];

  @IsArray()
  @ArrayMinSize(2, { message: 'Switch the load at least once: say off, then on.' })
  @ArrayMaxSize(100)
  @ValidateNested({ each: true })
  @Type(() => MarkInput)
  marks!: MarkInput[];

  /** Until when the last mark holds, UTC ms. */
  @IsInt()
  until!: number;
}

/** How a value followed; see core's Move. */
export interface MovedPoint {
  pointId: number;
  step: number;
  share: number;
  spread: number;
  noise: number;
  switchings: number;
  clarity: number;
}
