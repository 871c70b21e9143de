import type { Picture, Strip } from '@loka/core/balance';
import { hierarchy, partition } from 'd3-hierarchy';

/** A row of the schedule beside the drawing: a strip that nothing divides further. */
export interface FlowRow {
  key: string;
  strip: Strip;
  /** How many busbars lie before it. */
  depth: number;
  top: number;
  height: number;
}

/** A busbar with the band that leads to it. */
export interface FlowBar {
  /** The strip that leads to it; null for the main one. */
  strip: Strip | null;
  picture: Picture;
  depth: number;
  top: number;
  height: number;
}

export interface FlowSource {
  strip: Strip;
  top: number;
  height: number;
}

/** Where everything stands, px; widths of bands follow from `scale`. */
export interface FlowLayout {
  rows: FlowRow[];
  /** Headings over boards: one row high. */
  headings: { strip: Strip; depth: number; top: number; height: number }[];
  bars: FlowBar[];
  sources: FlowSource[];
  height: number;
}

export const ROW = 16;
const HEADING = 24;
const SOURCE = 58;
const GAP = 3;

interface Item {
  kind: 'bar' | 'row' | 'heading';
  strip: Strip | null;
  picture: Picture | null;
  depth: number;
  space: number;
  parts: Item[];
}

/**
 * The schedule and its busbars: a bar reaches over all that hangs on it, and each band runs straight.
 * @param wide width of a strip's band, px
 */
export function flowLayout(picture: Picture, wide: (strip: Strip) => number): FlowLayout {
  const rowOf = (strip: Strip, depth: number): Item => ({
    kind: 'row',
    strip,
    picture: null,
    depth,
    space: Math.max(ROW, wide(strip) + GAP),
    parts: [],
  });
  const barOf = (of: Picture, strip: Strip | null, depth: number): Item => {
    const parts = of.out.map((s) => (s.inside ? barOf(s.inside, s, depth + 1) : rowOf(s, depth)));
    const inner = strip === null ? [] : of.into.filter((s) => s.kind !== 'feed').map((s) => rowOf(s, depth));
    const heading: Item[] =
      strip === null ? [] : [{ kind: 'heading', strip, picture: null, depth, space: HEADING, parts: [] }];
    const all = [...heading, ...parts, ...inner];
    // The band that leads to it must find room on it.
    const short = strip === null ? 0 : wide(strip) + GAP - all.reduce((sum, p) => sum + spaceOf(p), 0);
    const last = all.at(-1);
    if (short > 0 && last?.kind === 'row') last.space += short;
    return { kind: 'bar', strip, picture: of, depth, space: 0, parts: all };
  };
  const root = hierarchy(barOf(picture, null, 0), (item) => item.parts).sum((item) => item.space);
  const into = picture.into;
  const sourceSpace = into.map((s) => Math.max(SOURCE, wide(s) + 24));
  const height = Math.max(
    root.value ?? 0,
    sourceSpace.reduce((a, b) => a + b, 0),
    ROW,
  );
  const placed = partition<Item>().size([root.value ?? 0, 1])(root);
  const rows: FlowRow[] = [];
  const bars: FlowBar[] = [];
  const headings: FlowLayout['headings'] = [];
  placed.eachBefore(({ data, x0, x1 }) => {
    const place = { depth: data.depth, top: x0, height: x1 - x0 };
    if (data.kind === 'bar') {
      const first = data.strip === null ? 0 : HEADING;
      bars.push({
        strip: data.strip,
        picture: data.picture as Picture,
        ...place,
        top: x0 + first,
        height: Math.max(0, (data.strip === null ? height : x1 - x0) - first),
      });
    } else if (data.kind === 'heading') headings.push({ strip: data.strip as Strip, ...place });
    else rows.push({ key: (data.strip as Strip).key, strip: data.strip as Strip, ...place });
  });
  let top = Math.max(0, (height - sourceSpace.reduce((a, b) => a + b, 0)) / 2);
  const sources = into.map((strip, i) => {
    const place = { strip, top, height: sourceSpace[i] as number };
    top += place.height;
    return place;
  });
  return { rows, headings, bars, sources, height };
}

const spaceOf = (item: Item): number =>
  item.parts.length === 0 ? item.space : item.parts.reduce((sum, p) => sum + spaceOf(p), 0);

/** The next of 1, 2, 5, 10 … that is not smaller. */
export function roundUp(value: number): number {
  if (!(value > 0)) return 1;
  const power = 10 ** Math.floor(Math.log10(value));
  return ([1, 2, 5, 10].find((n) => n * power >= value * (1 - 1e-9)) as number) * power;
}

/**
 * What a band as wide as {@link REFERENCE} carries: a round number, so that it can be said, and kept until the whole has
 * left its range by some, so that bands do not jump.
 */
export function scaleFor(total: number, room: number, before: number | null): number {
  const wanted = (total * REFERENCE) / room;
  if (before !== null && wanted <= before * 1.5 && wanted > before / 2.8) return before;
  return roundUp(wanted / 1.3);
}

/** Width of the band by which the scale is said, px. */
export const REFERENCE = 20;
