import type { Bar, Part } from './balance.js';

/** What a strip of the flow picture is. */
export type StripKind =
  /** What comes from above, and what goes back there. */
  | 'feed'
  | 'back'
  /** What a place gives, and takes. */
  | 'gives'
  | 'takes'
  /** What nobody meters. */
  | 'unmetered'
  /** What the meters claim too much: the parts sum to more than the whole. */
  | 'excess';

export interface Strip {
  key: string;
  kind: StripKind;
  /** The place that it belongs to; of what is not metered, the place of the bar. */
  nodeId: number;
  value: number;
  u: number;
  /** Whether it was known all the time, and depends on nothing that was missing. */
  certain: boolean;
  /** Of what is too much: beyond what is uncertain. */
  contradicts: boolean;
  /** What hangs behind it. */
  inside: Picture | null;
}

/** A busbar as it is drawn: what flows into it and what out of it, which is the same. */
export interface Picture {
  nodeId: number;
  places: number[];
  derived: boolean;
  total: number;
  into: Strip[];
  out: Strip[];
}

/** How a place is drawn. */
export interface PictureRules {
  /** Whether what is behind a place stands on the bar before it: a roof and a battery behind their inverter. */
  isOpened: (nodeId: number) => boolean;
  /** Whether a place generates or stores: it stands among the sources also while it gives nothing. */
  isSource: (nodeId: number) => boolean;
  /** Whether it also stands among the uses while it takes nothing: a storage. */
  isStorage: (nodeId: number) => boolean;
}

/** The strips of a bar; a way with sources behind it is opened, and its parts stand in its place. */
export function pictureOf(bar: Bar, rules: PictureRules): Picture {
  const into: Strip[] = [];
  const out: Strip[] = [];
  const certain = bar.own.known >= 0.99;
  const strip = (
    kind: StripKind,
    nodeId: number,
    value: number,
    u: number,
    more?: Partial<Strip>,
  ): Strip => ({
    key: `${kind} ${nodeId}`,
    kind,
    nodeId,
    value,
    u,
    certain: true,
    contradicts: false,
    inside: null,
    ...more,
  });
  const addRemainder = ({ nodeId, remainder }: Bar) => {
    if (!remainder) return;
    const { value, u, complete } = remainder;
    if (value > 0) out.push(strip('unmetered', nodeId, value, u, { certain: complete }));
    else if (value < 0)
      into.push(
        strip('excess', nodeId, -value, u, { certain: complete, contradicts: remainder.contradicts }),
      );
  };
  const addPart = (part: Part) => {
    const { nodeId, amount, bar: inner } = part;
    if (inner && rules.isOpened(nodeId)) {
      inner.parts.forEach(addPart);
      addRemainder(inner);
      return;
    }
    const known = { certain: amount.known >= 0.99 };
    const inside = inner ? pictureOf(inner, rules) : null;
    const source = rules.isSource(nodeId) && !inside;
    if (amount.out > 0 || source) into.push(strip('gives', nodeId, amount.out, amount.u, known));
    if (amount.in > 0 || !source || rules.isStorage(nodeId))
      out.push(strip('takes', nodeId, amount.in, amount.u, { ...known, inside }));
  };
  into.push(strip('feed', bar.nodeId, bar.own.in, bar.own.u, { certain }));
  bar.parts.forEach(addPart);
  addRemainder(bar);
  if (bar.own.out > 0 || into.some((s) => s.kind === 'gives'))
    out.push(strip('back', bar.nodeId, bar.own.out, bar.own.u, { certain }));
  const total = out.reduce((sum, s) => sum + s.value, 0);
  return { nodeId: bar.nodeId, places: bar.places, derived: bar.derived, total, into, out };
}

/** A use of its own: what no other strip divides. */
export interface Use {
  key: string;
  kind: 'takes' | 'unmetered' | 'back';
  nodeId: number;
  /** What flowed into it less nothing; of what nobody meters, below zero where the parts claim more than the whole. */
  value: number;
}

/**
 * What everything went into, each thing once: loads and ways behind which nothing is metered, what nobody meters at each
 * bar, and what went back. Its sum is what was taken and generated.
 */
export function usesOf(bar: Bar): Use[] {
  const uses: Use[] = [];
  const visit = ({ nodeId, parts, remainder }: Bar) => {
    for (const part of parts) {
      if (part.bar) visit(part.bar);
      else
        uses.push({ key: `takes ${part.nodeId}`, kind: 'takes', nodeId: part.nodeId, value: part.amount.in });
    }
    if (remainder)
      uses.push({ key: `unmetered ${nodeId}`, kind: 'unmetered', nodeId, value: remainder.value });
  };
  visit(bar);
  uses.push({ key: `back ${bar.nodeId}`, kind: 'back', nodeId: bar.nodeId, value: bar.own.out });
  return uses;
}

/** What gave it, each thing once: what came from above, and what the places without others behind them gave. */
export function givenBy(bar: Bar): { nodeId: number; value: number }[] {
  const given = [{ nodeId: bar.nodeId, value: bar.own.in }];
  const visit = ({ parts }: Bar) => {
    for (const part of parts) {
      if (part.bar) visit(part.bar);
      else if (part.amount.out > 0) given.push({ nodeId: part.nodeId, value: part.amount.out });
    }
  };
  visit(bar);
  return given;
}
