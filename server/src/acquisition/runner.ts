import type { FaultKind } from '@loka/contract/acquisition';
import type { TopicsSeen } from '@loka/contract/messages';
import type { LiveReading } from '@loka/contract/readings';
import type { KnownPoint } from '../book/deviceBook.js';
import { Problem, type FieldFault } from '../problem/errors.js';
import type { ToldSettings } from './messages/toldSettings.js';

/** A raw reading as it comes from the wire. */
export interface RawReading extends Omit<LiveReading, 'v' | 'sensed'> {
  /** Its instant is the device's own, not that of its arrival. */
  ownTime?: boolean;
  /** When it was read, by the monotonic clock, ms; when it is taken in, where that is not said. */
  at?: number;
}

/** Why a request to a device came to nothing: the quality its points get, and the words for the screen. */
export interface Fault {
  kind: FaultKind;
  quality: number;
  message: string;
  /** Nothing can be reached over the link; false where only this unit is at fault. */
  linkDown: boolean;
  /** Exception code of the protocol, if that is what came back. */
  exception: number | null;
}

/** A fault of a link or device, explained, on its way to whoever asked. */
export class LinkFault extends Problem {
  override name = 'LinkFault';
  constructor(
    readonly fault: Fault,
    faults: readonly FieldFault[] = [],
  ) {
    super('link-fault', fault.message, faults);
  }
}

/** Serves the devices of one link, whatever it speaks: takes in what they report, and sends what is written. */
export interface Runner {
  start(): void;
  stop(): Promise<void>;
  /** Sends a value (base units) to a point, within so many milliseconds or not at all. @throws LinkFault */
  write(point: KnownPoint, value: number, withinMs: number): Promise<void>;
  /** Brings the next reading of a point forward where that can be done. */
  hurry(pointId: number): void;
}

/** A runner whose devices tell their settings by themselves. */
export interface TellingRunner extends Runner {
  readonly told: ToldSettings;
  /**
   * Serves these points from now on. The link stays as it is, so that no message of the others is missed.
   * @param changed the devices that are new, gone, or asked something else
   */
  renew(points: readonly KnownPoint[], changed: ReadonlySet<number>): void;
  /** What is being published on the link; listens for as long as somebody looks. */
  watch(): Promise<TopicsSeen>;
  /** Has a setting told again, where somebody keeps what was told. @throws LinkFault */
  tellAgain(point: KnownPoint): Promise<void>;
  /** Whether a device says that it is not there. */
  isOffline(deviceId: number): boolean;
}

/** Whether the devices of a runner report by themselves. */
export const isTelling = (runner: Runner): runner is TellingRunner => 'told' in runner;
