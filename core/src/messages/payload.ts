import { quantityInfo, unitFactor } from '../quantities/index.js';
import { scale } from '../points/scaling.js';
import { QUALITY, type QualityCode } from '../series/quality.js';
import type { MessageDefinition } from './definition.js';
import { at, PointerError } from './pointer.js';
import { unitOfSenml } from './senml.js';

/** What comes with a payload and not inside it: the instant (UTC ms) and the unit of a SenML record. */
export interface Said {
  t?: number;
  unit?: string | null;
}

/** What a message gives for a point: a value in base units, or words for why there is none; `ownTime`: its instant is the one that it says. */
export type MessageValue = { t: number; value: number; q: QualityCode; ownTime: boolean } | { fault: string };

/** Payloads above this are not looked into. */
export const LARGEST_PAYLOAD = 256 * 1024;
/** A clock may be this much ahead before its time is not believed. */
const AHEAD = 5 * 60_000;
/** 2000-01-01: no reading of this trade is older, a clock without battery is. */
const FIRST_DAY = 946_684_800_000;

/** A payload as JSON, or as it is when it is none; one parse serves all the points of a topic. */
export function parsePayload(text: string): { json: unknown } | { fault: string } {
  if (text.length > LARGEST_PAYLOAD)
    return {
      fault: `The payload has ${text.length} characters; more than ${LARGEST_PAYLOAD} are not looked into.`,
    };
  try {
    return { json: JSON.parse(text) as unknown };
  } catch {
    return { json: text };
  }
}

/**
 * The value of a point in a parsed payload that arrived at `arrived` (UTC ms). A number may come as a string;
 * NaN, infinities and anything else that is no number are refused in words. A unit that is said with it holds
 * instead of the definition's; one that is not of the quantity is a fault, never a value.
 */
export function valueInPayload(
  definition: MessageDefinition,
  json: unknown,
  arrived: number,
  said: Said = {},
): MessageValue {
  try {
    const found = at(json, definition.pointer);
    if (found === undefined)
      return { fault: `There is nothing at “${definition.pointer}” in the payload ${excerpt(json)}.` };
    const raw =
      definition.on !== undefined || definition.off !== undefined
        ? stateOf(definition, found)
        : numberOf(found);
    if (typeof raw === 'string') return { fault: raw };
    const unit = definition.quantity === 'other' || !said.unit ? definition.unit : unitOfSenml(said.unit);
    const factor = unitFactor(definition.quantity, unit);
    if (factor === undefined)
      return {
        fault: `It is in “${said.unit || unit}”, which is not a unit of ${quantityInfo(definition.quantity).label.toLowerCase()}.`,
      };
    const value = scale(definition.scaling, raw) * factor;
    if (!Number.isFinite(value)) return { fault: `${raw} scales to no number.` };
    return { value, ...instantOf(definition, json, arrived, said.t) };
  } catch (error) {
    if (error instanceof PointerError) return { fault: `The pointer is not one: ${error.message}.` };
    throw error;
  }
}

/** A number out of a JSON value, or words for why it is none. */
export function numberOf(found: unknown): number | string {
  if (typeof found === 'boolean') return found ? 1 : 0;
  const number =
    typeof found === 'number'
      ? found
      : typeof found === 'string' && /^\s*[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?\s*$/i.test(found)
        ? Number(found)
        : NaN;
  return Number.isFinite(number) ? number : `${excerpt(found)} is not a number.`;
}

function stateOf({ on, off }: MessageDefinition, found: unknown): number | string {
  const text = typeof found === 'string' ? found.trim() : JSON.stringify(found);
  if (text === on) return 1;
  if (text === off) return 0;
  return `${excerpt(found)} is neither “${on}” nor “${off}”.`;
}

/** The instant of a reading: the one inside, when there is one that can be, else that of the arrival. */
function instantOf(
  { timePointer }: MessageDefinition,
  json: unknown,
  arrived: number,
  said: number | undefined,
): { t: number; q: QualityCode; ownTime: boolean } {
  if (timePointer === undefined && said === undefined) return { t: arrived, q: QUALITY.good, ownTime: false };
  const t = timePointer === undefined ? (said ?? null) : instantIn(at(json, timePointer));
  const possible = t !== null && t >= FIRST_DAY && t <= arrived + AHEAD;
  return possible
    ? { t, q: QUALITY.good, ownTime: true }
    : { t: arrived, q: QUALITY.arrivalTime, ownTime: false };
}

/** UTC ms from seconds or milliseconds since 1970, or from ISO 8601 text with its offset; null when it is none of them. */
export function instantIn(found: unknown): number | null {
  if (typeof found === 'number' && Number.isFinite(found))
    return Math.round(found > 1e11 ? found : found * 1000);
  if (typeof found !== 'string') return null;
  if (/^\d{9,13}(\.\d+)?$/.test(found)) return instantIn(Number(found));
  const t = /^\d{4}-\d\d-\d\dT\d\d:\d\d(:\d\d(\.\d+)?)?(Z|[+-]\d\d:?\d\d)$/.test(found)
    ? Date.parse(found)
    : NaN;
  return Number.isNaN(t) ? null : t;
}

function excerpt(value: unknown): string {
  const text = JSON.stringify(value) ?? String(value);
  return text.length > 60 ? `${text.slice(0, 60)}…` : text;
}
