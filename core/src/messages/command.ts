import { unitFactor } from '../quantities/index.js';
import { unscale } from '../points/scaling.js';
import type { MessageDefinition } from './definition.js';

/** The payload to send for a value in base units. @throws ScalingError */
export function payloadFor(definition: MessageDefinition, value: number): string {
  if (definition.on !== undefined && definition.off !== undefined)
    return value !== 0 ? definition.on : definition.off;
  const number = unscale(definition.scaling, value / (unitFactor(definition.quantity, definition.unit) ?? 1));
  return String(Number(number.toPrecision(12)));
}
