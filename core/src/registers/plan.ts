import type { Span } from './definition.js';
import { isBitKind, type RegisterKind } from './types.js';

/** At most this much in one read (Modbus Application Protocol V1.1b3, sections 6.1–6.4). */
export const MAX_WORDS = 125;
export const MAX_BITS = 2000;

export interface PlanLimits {
  /** Registers that nobody asked for and that are read along to save a request. */
  maxGap: number;
  maxWords: number;
  maxBits: number;
}

export const DEFAULT_LIMITS: PlanLimits = { maxGap: 16, maxWords: MAX_WORDS, maxBits: MAX_BITS };

export interface ReadRequest<T> extends Span {
  items: T[];
}

/**
 * Joins the spans of wanted values into the fewest read requests that the limits allow. Working from the
 * lowest address up and joining whatever still fits is optimal for spans on a line; no value is ever split.
 */
export function planReads<T>(
  items: readonly T[],
  span: (item: T) => Span,
  limits: PlanLimits = DEFAULT_LIMITS,
): ReadRequest<T>[] {
  const byKind = new Map<RegisterKind, T[]>();
  for (const item of items) {
    const { kind } = span(item);
    byKind.set(kind, [...(byKind.get(kind) ?? []), item]);
  }
  return [...byKind].flatMap(([kind, list]) => planKind(kind, list, span, limits));
}

function planKind<T>(
  kind: RegisterKind,
  items: T[],
  span: (item: T) => Span,
  limits: PlanLimits,
): ReadRequest<T>[] {
  const most = isBitKind(kind) ? limits.maxBits : limits.maxWords;
  const requests: ReadRequest<T>[] = [];
  const sorted = [...items].sort((a, b) => span(a).start - span(b).start || span(a).count - span(b).count);
  for (const item of sorted) {
    const { start, count } = span(item);
    const last = requests[requests.length - 1];
    const end = last ? last.start + last.count : 0;
    const joined = last ? Math.max(end, start + count) - last.start : Infinity;
    if (last && start - end <= limits.maxGap && joined <= most) {
      last.count = joined;
      last.items.push(item);
    } else requests.push({ kind, start, count, items: [item] });
  }
  return requests;
}

/** Where requests could not be joined, and why: for the person who describes the device. */
export interface PlanGap<T> {
  /** The value that begins a request of its own. */
  item: T;
  message: string;
}

/** Gaps between values that cost a further request. */
export function gapsOf<T>(
  requests: readonly ReadRequest<T>[],
  limits: PlanLimits = DEFAULT_LIMITS,
): PlanGap<T>[] {
  return requests.flatMap((request, i) => {
    const before = requests[i - 1];
    if (!before || before.kind !== request.kind) return [];
    const gap = request.start - before.start - before.count;
    const message =
      gap > limits.maxGap
        ? `${gap} registers that nobody asked for lie before it, so it is read by a further request.`
        : 'The request before it is full, so it is read by a further one.';
    return [{ item: request.items[0] as T, message }];
  });
}
