import { unitFactor } from '../quantities/index.js';
import { unscale } from '../points/scaling.js';
import type { MessageDefinition } from './definition.js';
import { parsePayload } from './payload.js';
import { stepsOf } from './pointer.js';

/** The payload to send for a value in base units. @throws ScalingError */
export function payloadFor(definition: MessageDefinition, value: number): string {
  if (definition.on !== undefined && definition.off !== undefined)
    return value !== 0 ? definition.on : definition.off;
  const number = unscale(definition.scaling, value / (unitFactor(definition.quantity, definition.unit) ?? 1));
  return String(Number(number.toPrecision(12)));
}

/**
 * The payload that sets a setting to a value in base units: the value itself, or an object with the value where the device
 * looks for it. What means on and off is sent as it is told: `true` as JSON's true. @throws ScalingError, PointerError
 */
export function settingPayloadFor(definition: MessageDefinition, value: number): string {
  const text = payloadFor(definition, value);
  const steps = stepsOf(definition.setPointer ?? '');
  if (steps.length === 0) return text;
  const said = parsePayload(text);
  const inner: unknown = 'fault' in said ? text : said.json;
  return JSON.stringify(
    steps.reduceRight((within: unknown, step) => Object.fromEntries([[step, within]]) as unknown, inner),
  );
}
