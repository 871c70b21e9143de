import type { PointBasics } from '../points/basics.js';

/**
 * One value of a device that reports by messages: on which topic, and where in the payload it stands.
 * In topics, `{device}` stands for the device's own base topic, so that a map serves many devices.
 */
export interface MessageDefinition extends PointBasics {
  kind: 'message';
  topic: string;
  /** JSON pointer (RFC 6901) to the value; '' when the payload is the value itself. */
  pointer: string;
  /** JSON pointer to the instant of the reading; missing when it has none but that of its arrival. */
  timePointer?: string;
  /** Payloads, or values at the pointer, that mean on and off; sent when it is a command. Missing: numbers. */
  on?: string;
  off?: string;
  /** Quality of service with which commands and settings are sent. */
  qos?: 0 | 1;
  /** Topic on which a setting is sent; missing where the device only tells it. */
  setTopic?: string;
  /** JSON pointer to the value in what is sent as a setting; missing when the payload is the value itself. */
  setPointer?: string;
}

/** Where a device says whether it is there (a last will or a topic of its own). */
export interface Availability {
  topic: string;
  online: string;
  offline: string;
}

export const DEVICE_PLACE = '{device}';
