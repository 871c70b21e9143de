import type { SettingRole } from '../settings/role.js';
import { quantityInfo, type Phase, type Quantity } from '../quantities/index.js';
import type { Scaling } from './scaling.js';

/** A setting is kept by the device and read and written when somebody asks for it; all others are readings or commands. */
export const ACCESSES = ['read', 'write', 'read-write', 'setting'] as const;
export type Access = (typeof ACCESSES)[number];

/** The name of a state that a device reports as a number. */
export interface StateName {
  value: number;
  name: string;
}

/** What every point has, however its value comes about. */
export interface PointBasics {
  /** Stable name within its map; the identity of the point when its other fields are edited. */
  key: string;
  name: string;
  scaling: Scaling;
  /** Unit that the scaling yields, e.g. kW; stored values are in the quantity's base unit. */
  unit: string;
  quantity: Quantity;
  phase: Phase | null;
  access: Access;
  /** Milliseconds between polls, or between the reports that are expected. */
  intervalMs: number;
  /** Names of the values of an enumeration; missing where the numbers speak for themselves. */
  names?: StateName[];
  /** What a command sends, where it always sends the same (clear a peak); for points that are only written. */
  send?: number;
  /** What it sets, of a setting. */
  setting?: SettingRole;
}

/** Whether it is read again and again: a reading, or a state. */
export const isReadable = ({ access }: Pick<PointBasics, 'access'>): boolean =>
  access === 'read' || access === 'read-write';
/** Whether it can be written to. */
export const isWritable = ({ access }: Pick<PointBasics, 'access'>): boolean =>
  access === 'write' || access === 'read-write';
export const isSetting = ({ access }: Pick<PointBasics, 'access'>): boolean => access === 'setting';

/**
 * Whether it takes a value that somebody types: a number or a named state. A contact is none of them: it moves loads, and
 * is operated as a switch, with what is read back and what guards it.
 */
export const isWrittenByHand = (
  point: Pick<PointBasics, 'access' | 'send' | 'quantity' | 'names'> & {
    kind: string;
    type?: string;
    on?: string;
  },
): boolean =>
  isWritable(point) &&
  point.send === undefined &&
  quantityInfo(point.quantity).kind !== 'state' &&
  point.kind !== 'coil' &&
  point.type !== 'bool' &&
  point.type !== 'string' &&
  point.on === undefined;

/** Whether somebody can send it something: what it always sends, or a value that is typed. */
export const canBeSent = (point: Parameters<typeof isWrittenByHand>[0]): boolean =>
  point.send !== undefined || isWrittenByHand(point);

/** The name of a value of an enumeration, or null where it has none. */
export const nameOfState = (definition: Pick<PointBasics, 'names'>, value: number): string | null =>
  definition.names?.find((state) => state.value === value)?.name ?? null;
