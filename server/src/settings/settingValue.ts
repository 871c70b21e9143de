import { isRegister } from '@loka/core/definitions';
import { parsePayload, payloadFor, valueInPayload, type MessageDefinition } from '@loka/core/messages';
import { implausible } from '@loka/core/quantities';
import { valueOf, wordsFor } from '@loka/core/registers';
import { isPositiveOnly, isSameSetting } from '@loka/core/settings';
import type { SettingPoint } from '../acquisition/settingWire.service.js';

/** A value of a setting in words, without digits that come from binary arithmetic. */
export const show = (value: number): string => String(Number(value.toPrecision(7)));

/** Why a setting cannot be a value; null when it can. */
export function faultOf({ definition }: SettingPoint, value: number): string | null {
  const { name, names, setting = 'other', quantity } = definition;
  if (names && !names.some((n) => n.value === value))
    return `“${name}” is one of ${names.map((n) => n.name).join(', ')}.`;
  if (isPositiveOnly(setting) && !(value > 0)) return `“${name}” is above 0.`;
  const doubt = implausible(quantity, value);
  if (doubt) return `“${name}” cannot be ${show(value)}: ${doubt}.`;
  try {
    const back = isRegister(definition)
      ? valueOf(definition, wordsFor(definition, value))
      : sentAndTold(definition, value);
    // To the digit: what would be rounded is not what was asked for.
    if (!isSameSetting(back, value, 0))
      return `“${name}” has no room for ${show(value)}: it would be ${show(back)}.`;
    return null;
  } catch (error) {
    return `“${name}” has no room for ${show(value)}: ${(error as Error).message}.`;
  }
}

/** What a message would say that sets a value: a state has two, and what is sent has so many digits. */
function sentAndTold(definition: MessageDefinition, value: number): number {
  const parsed = parsePayload(payloadFor(definition, value));
  const told = 'fault' in parsed ? parsed : valueInPayload({ ...definition, pointer: '' }, parsed.json, 0);
  if ('fault' in told) throw new Error(told.fault);
  return told.value;
}
