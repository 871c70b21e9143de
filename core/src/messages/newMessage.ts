import { UNSCALED } from '../points/scaling.js';
import type { MessageDefinition } from './definition.js';

/**
 * A value in messages as it begins: the whole payload of the device's report, unscaled, expected every ten seconds,
 * of which nothing is said yet but what `known` says.
 */
export const newMessage = (
  known: Partial<MessageDefinition> & Pick<MessageDefinition, 'key'>,
): MessageDefinition => ({
  kind: 'message',
  name: known.key,
  topic: '{device}/report',
  pointer: '',
  scaling: UNSCALED,
  unit: '',
  quantity: 'other',
  phase: null,
  access: 'read',
  intervalMs: 10_000,
  ...known,
});
