import { net, ofPower, together, type Amount } from './amount.js';

/** A place of the installation, as far as a balance needs it. */
export interface BalancePlace {
  id: number;
  parentId: number | null;
}

/**
 * What is known of the places: of one that is not in it nothing is metered; null is one that is metered and has no value.
 */
export type BalanceValues = ReadonlyMap<number, Amount | null>;

/** What hangs on a busbar. */
export interface Part {
  nodeId: number;
  amount: Amount;
  /** Whether its own meter says it, or it is the sum of what hangs on it. */
  derived: boolean;
  /** Its own busbar, where something behind it is metered. */
  bar: Bar | null;
}

/** What nobody meters at a busbar. */
export interface Remainder {
  /** What flows in less all that is metered; below zero where the parts sum to more than the whole. */
  value: number;
  /** Within so much it is known, 95 %. */
  u: number;
  /** Whether everything metered here had a value all the time, so that it is what really nobody meters. */
  complete: boolean;
  /** Whether the parts sum to more than the whole by more than is uncertain. */
  contradicts: boolean;
}

/** A busbar: what comes from above, what hangs on it, and what nobody meters. */
export interface Bar {
  /** The place with the meter before it, or the place whose sum it is. */
  nodeId: number;
  /** Places that are this busbar: one that hangs alone behind a meter is the same bar. */
  places: number[];
  own: Amount;
  derived: boolean;
  parts: Part[];
  /** Places on it that are metered and had no value. */
  missing: number[];
  /** Places on it with a value for a part of the time. */
  partly: number[];
  /** Null where the bar has no meter: what is not metered here is left over further up. */
  remainder: Remainder | null;
}

/** Less than this share of what flows is the rounding of numbers. */
const ROUNDING = 1e-9;
/** Less of the time than this is only a part of it. */
const WHOLE = 0.99;

/**
 * Where it goes, level by level. At each busbar what flows in is what flows out: own.in + Σ parts.out = own.out +
 * Σ parts.in + remainder (Kirchhoff's current law for energy; the remainder is what the equation leaves). A place counts once: by its own meter where it has one, else by the sum of
 * what hangs on it. Null where nothing at or below the root is metered.
 */
export function balanceOf(
  places: readonly BalancePlace[],
  values: BalanceValues,
  rootId: number,
): Bar | null {
  const children = new Map<number | null, BalancePlace[]>();
  for (const place of places) {
    const list = children.get(place.parentId);
    if (list) list.push(place);
    else children.set(place.parentId, [place]);
  }
  const below = (id: number) => children.get(id) ?? [];

  const partOf = (id: number): Part | 'missing' | null => {
    const bar = barAt(id);
    const own = values.get(id);
    if (own) return { nodeId: id, amount: own, derived: false, bar };
    if (bar) return { nodeId: id, amount: bar.own, derived: true, bar };
    return own === null ? 'missing' : null;
  };

  const barAt = (id: number): Bar | null => {
    const same = [id];
    for (;;) {
      const last = same.at(-1) as number;
      const [only, ...others] = below(last);
      if (!only || others.length > 0 || values.has(only.id) || below(only.id).length === 0) break;
      same.push(only.id);
    }
    const parts: Part[] = [];
    const missing: number[] = [];
    for (const child of below(same.at(-1) as number)) {
      const part = partOf(child.id);
      if (part === 'missing') missing.push(child.id);
      else if (part) parts.push(part);
    }
    if (parts.length === 0 && missing.length === 0) return null;
    // A meter without a value is missed, although the sum of what hangs on it stands in for it.
    if (values.get(id) === null) missing.push(id);
    const partly = parts.filter((p) => p.amount.known < WHOLE).map((p) => p.nodeId);
    const own = values.get(id) ?? null;
    const base = { nodeId: id, places: same, parts, missing, partly };
    if (!own) {
      const sum = ofPower(parts.reduce((total, p) => total + net(p.amount), 0));
      const amount = {
        ...sum,
        u: together(parts.map((p) => p.amount.u)),
        known: Math.min(1, ...parts.map((p) => p.amount.known)),
      };
      return parts.length === 0 ? null : { ...base, own: amount, derived: true, remainder: null };
    }
    const difference = net(own) - parts.reduce((total, p) => total + net(p.amount), 0);
    const flowing = parts.reduce((total, p) => total + p.amount.in + p.amount.out, own.in + own.out);
    // What the sums of numbers leave over is no flow.
    const value = Math.abs(difference) <= ROUNDING * flowing ? 0 : difference;
    const u = together([own.u, ...parts.map((p) => p.amount.u)]);
    const complete =
      missing.length === 0 &&
      partly.length === 0 &&
      own.known >= WHOLE &&
      parts.every((p) => p.bar === null || !p.derived || isComplete(p.bar));
    return {
      ...base,
      own,
      derived: false,
      remainder: { value, u, complete, contradicts: value < -u },
    };
  };
  return barAt(rootId);
}

/** Whether everything metered at a bar without a meter of its own, and at such bars on it, had a value. */
const isComplete = (bar: Bar): boolean =>
  bar.missing.length === 0 &&
  bar.partly.length === 0 &&
  bar.parts.every((p) => p.bar === null || !p.derived || isComplete(p.bar));

/** Whether all that is metered at a bar and behind it had a value all the time. */
export const isCertain = (bar: Bar): boolean =>
  bar.own.known >= WHOLE && isComplete(bar) && bar.parts.every((p) => p.bar === null || isCertain(p.bar));

/** What flows into a bar and out of it, both sides the same. */
export interface Sides {
  in: number;
  out: number;
}

/** Both sides of a bar, the remainder on the one where it belongs. */
export function sidesOf({ own, parts, remainder }: Bar): Sides {
  const left = remainder?.value ?? 0;
  return {
    in: own.in + parts.reduce((sum, p) => sum + p.amount.out, 0) + Math.max(0, -left),
    out: own.out + parts.reduce((sum, p) => sum + p.amount.in, 0) + Math.max(0, left),
  };
}
