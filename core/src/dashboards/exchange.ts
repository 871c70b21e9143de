import {
  findNodeAtLocation,
  getNodeValue,
  parseTree,
  printParseErrorCode,
  type Node,
  type ParseError,
} from 'jsonc-parser';
import { bisectLeft } from 'd3-array';
import type { Phase, Quantity } from '../quantities/index.js';
import { NAMED_PERIODS } from '../time/index.js';
import { MOST_ELEMENTS, tidied, type DashboardContent } from './content.js';
import {
  ELEMENT_KINDS,
  KIND_RULES,
  newElement,
  SOURCE_KINDS,
  type DashboardElement,
  type Ends,
  type Source,
} from './element.js';
import { COLUMNS, onSheet } from './grid.js';

/** What of an installation a dashboard refers to, to be found again in another one. */
export interface ExchangeFacts {
  nodes: readonly { id: number; parentId: number | null; name: string }[];
  points: readonly {
    id: number;
    nodeId: number | null;
    key: string;
    quantity: Quantity;
    phase: Phase | null;
    deviceName: string;
  }[];
  switches: readonly { id: number; nodeId: number; name: string }[];
  plans: readonly { id: number; name: string }[];
  pictures: readonly { id: number; name: string }[];
}

/** Something that is said of a line of a file. */
export interface LineNote {
  /** From 1. */
  line: number;
  says: string;
}

export type Imported =
  /** `notes` say what this installation does not have; those elements come without it. */
  | { ok: true; name: string; content: DashboardContent; notes: LineNote[] }
  | { ok: false; faults: LineNote[] };

const FORMAT = 'loka-dashboard';
const VERSION = 1;
/** More letters than any dashboard has. */
const LONGEST = 1_000_000;

interface WrittenSource {
  of: Source['of'];
  /** Names from the supply down. */
  place?: string[];
  device?: string;
  point?: string;
  quantity?: Quantity;
  phase?: Phase | null;
  switch?: string;
  plan?: string;
  picture?: string;
}

const pathOf = (nodes: ExchangeFacts['nodes'], id: number | null): string[] => {
  const node = nodes.find((n) => n.id === id);
  return node ? [...pathOf(nodes, node.parentId), node.name] : [];
};

function written({ of, id }: Source, facts: ExchangeFacts): WrittenSource {
  const { nodes, points, switches } = facts;
  if (of === 'plan' || of === 'picture') {
    const drawn = facts[`${of}s`].find((p) => p.id === id);
    return drawn ? { of, [of]: drawn.name } : { of };
  }
  if (of === 'point') {
    const point = points.find((p) => p.id === id);
    return point
      ? {
          of,
          place: pathOf(nodes, point.nodeId),
          device: point.deviceName,
          point: point.key,
          quantity: point.quantity,
          phase: point.phase,
        }
      : { of };
  }
  if (of === 'switch') {
    const entity = switches.find((s) => s.id === id);
    return entity ? { of, switch: entity.name, place: pathOf(nodes, entity.nodeId) } : { of };
  }
  return { of, place: pathOf(nodes, id) };
}

/** A dashboard as a JSON text that another installation can take: what it shows is written by name, not by number. */
export function exportText(
  name: string,
  { elements, phone }: DashboardContent,
  facts: ExchangeFacts,
): string {
  const body = {
    format: FORMAT,
    version: VERSION,
    name,
    elements: elements.map((e) => ({ ...e, shows: e.shows.map((s) => written(s, facts)) })),
    phone,
  };
  return `${JSON.stringify(body, null, 2)}\n`;
}

/** A value from a file, to be named in a sentence. */
const quoted = (value: unknown): string =>
  typeof value === 'string' ? value.slice(0, 60) : (JSON.stringify(value) ?? 'nothing').slice(0, 60);

/** A source as it may stand in a file; null where it is none. */
function sourceOf(value: unknown): WrittenSource | null {
  if (typeof value !== 'object' || value === null) return null;
  const written = value as Record<string, unknown>;
  const of = SOURCE_KINDS.find((kind) => kind === written.of);
  if (!of) return null;
  const text = (key: string) => (typeof written[key] === 'string' ? { [key]: written[key] } : {});
  const place = Array.isArray(written.place) ? written.place.filter((n) => typeof n === 'string') : [];
  return {
    of,
    place,
    ...text('device'),
    ...text('point'),
    ...text('quantity'),
    ...text('phase'),
    ...text('switch'),
    ...text('plan'),
    ...text('picture'),
  };
}

/** The place of a path: by the whole of it, or else the only one of its name. */
function placeAt(nodes: ExchangeFacts['nodes'], path: readonly string[]): number | null {
  const whole = nodes.find((n) => JSON.stringify(pathOf(nodes, n.id)) === JSON.stringify(path));
  if (whole) return whole.id;
  const named = nodes.filter((n) => n.name === path.at(-1));
  return named.length === 1 ? (named[0]?.id ?? null) : null;
}

/** What is meant by a written source here; null where there is no such thing. */
function found(source: WrittenSource, facts: ExchangeFacts): Source | null {
  const { nodes, points, switches } = facts;
  const { of, place = [] } = source;
  if (of === 'plan' || of === 'picture') {
    const drawn = facts[`${of}s`].find((p) => p.name === source[of]);
    return drawn ? { of, id: drawn.id } : null;
  }
  const nodeId = placeAt(nodes, place);
  if (of === 'switch') {
    const one =
      switches.find((s) => s.nodeId === nodeId && s.name === source.switch) ??
      switches.find((s) => s.name === source.switch) ??
      switches.find((s) => s.nodeId === nodeId);
    return one ? { of, id: one.id } : null;
  }
  if (of === 'point') {
    const alike = points.filter(
      (p) =>
        (nodeId === null ? p.deviceName === source.device : p.nodeId === nodeId) &&
        p.quantity === source.quantity &&
        p.phase === (source.phase ?? null),
    );
    const one =
      alike.find((p) => p.deviceName === source.device && p.key === source.point) ??
      alike.find((p) => p.key === source.point) ??
      alike[0];
    return one ? { of, id: one.id } : null;
  }
  return nodeId === null ? null : { of, id: nodeId };
}

const inWords = ({ of, place = [], device, point, switch: name, plan, picture }: WrittenSource): string =>
  of === 'plan'
    ? `floor plan “${plan ?? '?'}”`
    : of === 'picture'
      ? `picture “${picture ?? '?'}”`
      : of === 'switch'
        ? `switch “${name ?? '?'}”`
        : of === 'point'
          ? `“${point ?? '?'}” of ${device ?? '?'} at “${place.at(-1) ?? '?'}”`
          : `“${place.at(-1) ?? '?'}”`;

/**
 * A dashboard from a JSON text. What does not hold is told by its line, all of it at once, and nothing is taken; what only
 * is not here is told as well, and left out.
 */
export function importText(text: string, facts: ExchangeFacts): Imported {
  const faults: LineNote[] = [];
  const notes: LineNote[] = [];
  if (text.length > LONGEST)
    return {
      ok: false,
      faults: [{ line: 1, says: 'The file is larger than a megabyte; no dashboard is that large.' }],
    };
  const errors: ParseError[] = [];
  const starts = [...text.matchAll(/\n/g)].map(({ index }) => index);
  const lineAt = (offset: number) => bisectLeft(starts, offset) + 1;
  let root: Node | undefined;
  try {
    root = parseTree(text, errors, { disallowComments: true });
  } catch (error) {
    // The parser calls itself for each bracket.
    if (!(error instanceof RangeError)) throw error;
    return { ok: false, faults: [{ line: 1, says: 'It is nested far deeper than a dashboard is.' }] };
  }
  for (const { error, offset } of errors.slice(0, 5))
    faults.push({ line: lineAt(offset), says: `This is not JSON here: ${printParseErrorCode(error)}.` });
  if (!root || errors.length > 0)
    return { ok: false, faults: faults.length > 0 ? faults : [{ line: 1, says: 'The file is empty.' }] };
  const fault = (node: Node | undefined, says: string): null => {
    faults.push({ line: node ? lineAt(node.offset) : 1, says });
    return null;
  };
  const at = (node: Node | undefined, ...path: (string | number)[]) => node && findNodeAtLocation(node, path);
  const value = (node: Node | undefined): unknown => (node ? getNodeValue(node) : undefined);

  if (value(at(root, 'format')) !== FORMAT)
    return { ok: false, faults: [{ line: 1, says: 'This is not a dashboard of Loka.' }] };
  const version = at(root, 'version');
  if (value(version) !== VERSION)
    return {
      ok: false,
      faults: [
        {
          line: version ? lineAt(version.offset) : 1,
          says: `It is of version ${quoted(value(version))}; this Loka reads version ${VERSION}.`,
        },
      ],
    };
  const name = at(root, 'name');
  if (
    typeof value(name) !== 'string' ||
    (value(name) as string).trim() === '' ||
    (value(name) as string).length > 80
  )
    fault(name, 'A dashboard has a name of 1 to 80 letters.');
  const list = at(root, 'elements');
  if (list?.type !== 'array') fault(list, 'The elements are a list.');
  const items = list?.type === 'array' ? (list.children ?? []) : [];
  if (items.length > MOST_ELEMENTS)
    fault(list, `A dashboard has at most ${MOST_ELEMENTS} elements; these are ${items.length}.`);
  const seen = new Set<string>();

  const whole = (node: Node | undefined, least: number, most: number, what: string): number => {
    const v = value(node);
    if (typeof v === 'number' && Number.isInteger(v) && v >= least && v <= most) return v;
    fault(node, `${what} is a whole number from ${least} to ${most}.`);
    return least;
  };
  const ends = (node: Node | undefined, what: string): Ends | null => {
    const v = value(node);
    if (v == null) return null;
    if (Array.isArray(v) && v.length === 2 && v.every((n) => Number.isFinite(n)) && v[0] < v[1])
      return [v[0], v[1]] as Ends;
    return fault(node, `${what} is two numbers, the lower one first.`);
  };
  const textOf = (node: Node | undefined, most: number, what: string): string => {
    const v = value(node) ?? '';
    if (typeof v === 'string' && v.length <= most) return v;
    fault(node, `${what} has at most ${most} letters.`);
    return '';
  };

  const elements = items.slice(0, MOST_ELEMENTS).flatMap((item): DashboardElement[] => {
    if (item.type !== 'object') return fault(item, 'An element is an object.') ?? [];
    const kindNode = at(item, 'kind');
    const kind = ELEMENT_KINDS.find((k) => k === value(kindNode));
    if (!kind)
      return (
        fault(
          kindNode ?? item,
          `Loka has no element “${quoted(value(kindNode))}”. It has: ${ELEMENT_KINDS.join(', ')}.`,
        ) ?? []
      );
    const idNode = at(item, 'id');
    const id = textOf(idNode, 40, 'An id');
    if (id === '' || seen.has(id))
      fault(idNode ?? item, id === '' ? 'It has no id.' : `Two elements have the id “${id}”.`);
    seen.add(id);
    const spot = {
      x: whole(at(item, 'spot', 'x') ?? item, 0, COLUMNS - 1, 'Its column x'),
      y: whole(at(item, 'spot', 'y') ?? item, 0, 10_000, 'Its row y'),
      w: whole(at(item, 'spot', 'w') ?? item, 1, COLUMNS, 'Its width w'),
      h: whole(at(item, 'spot', 'h') ?? item, 1, 100, 'Its height h'),
    };
    const spanNode = at(item, 'span');
    const span = value(spanNode) ?? null;
    if (span !== null && !(NAMED_PERIODS as readonly unknown[]).includes(span))
      fault(spanNode, `There is no period “${quoted(span)}”. There are: ${NAMED_PERIODS.join(', ')}.`);
    const digits = at(item, 'digits');
    const nominal = value(at(item, 'nominal')) ?? null;
    if (nominal !== null && !Number.isFinite(nominal))
      fault(at(item, 'nominal'), 'The nominal value is a number.');
    const { most, least, takes } = KIND_RULES[kind];
    const shows = (at(item, 'shows')?.children ?? []).flatMap((node): Source[] => {
      const source = sourceOf(value(node));
      if (!source) return fault(node, `What is shown is one of: ${SOURCE_KINDS.join(', ')}.`) ?? [];
      if (!takes.includes(source.of))
        return fault(node, `An element “${kind}” does not show a ${source.of}.`) ?? [];
      const one = found(source, facts);
      if (!one) notes.push({ line: lineAt(node.offset), says: `There is no ${inWords(source)} here.` });
      return one ? [one] : [];
    });
    if (shows.length > most) fault(at(item, 'shows'), `An element “${kind}” shows at most ${most}.`);
    return [
      newElement(id, kind, shows, onSheet(spot, least), {
        title: textOf(at(item, 'title'), 80, 'A title') || null,
        band: ends(at(item, 'band'), 'A band'),
        scale: ends(at(item, 'scale'), 'A scale'),
        nominal: nominal as number | null,
        digits: value(digits) == null ? null : whole(digits, 0, 6, 'Digits'),
        span: span as DashboardElement['span'],
        text: textOf(at(item, 'text'), 2000, 'A text'),
      }),
    ];
  });
  if (faults.length > 0) return { ok: false, faults };
  const phone = value(at(root, 'phone')) as Partial<DashboardContent['phone']> | undefined;
  const shown = (Array.isArray(phone?.shown) ? phone.shown : []).flatMap((p) =>
    typeof p === 'object' && p !== null && typeof p.id === 'string'
      ? [{ id: p.id, half: p.half === true }]
      : [],
  );
  const away = (Array.isArray(phone?.away) ? phone.away : []).filter((id) => typeof id === 'string');
  return {
    ok: true,
    name: (value(name) as string).trim(),
    content: tidied({ elements, phone: { shown, away } }),
    notes,
  };
}
