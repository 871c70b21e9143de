import type { NamedPeriod } from '../time/index.js';
import type { Spot } from './grid.js';

/** What an element of a dashboard is. */
export const ELEMENT_KINDS = [
  'number',
  'dial',
  'level',
  'trend',
  'bars',
  'ranking',
  'typical-day',
  'flow',
  'switch',
  'command',
  'alerts',
  'job',
  'plan',
  'picture',
  'text',
] as const;
export type ElementKind = (typeof ELEMENT_KINDS)[number];

/** What can be shown: a point, what flows at a place, its energy, a place itself, a switch, a floor plan, a picture. */
export const SOURCE_KINDS = ['point', 'power', 'energy', 'place', 'switch', 'plan', 'picture'] as const;
export type SourceKind = (typeof SOURCE_KINDS)[number];

export interface Source {
  of: SourceKind;
  /** Of a point, a place, a switch, a plan or a picture. */
  id: number;
}

/** A lower and an upper end, in the base unit of what is shown. */
export type Ends = [number, number];

/** One thing on a dashboard. What its kind does not use is kept, so that changing the kind and back loses nothing. */
export interface DashboardElement {
  id: string;
  kind: ElementKind;
  /** Null takes the name of what is shown. */
  title: string | null;
  spot: Spot;
  shows: Source[];
  /** Within which it should be; null takes the usual one of the quantity at its place. */
  band: Ends | null;
  /** Ends of a scale; null takes the usual ones. */
  scale: Ends | null;
  nominal: number | null;
  /** Decimals of the number; null takes as many as the size of the value asks for. */
  digits: number | null;
  /** The span that it covers; null takes the period at the top. */
  span: NamedPeriod | null;
  text: string;
}

interface KindRules {
  /** What it can show, the one that is meant when a place is dropped on it first. */
  takes: readonly SourceKind[];
  most: number;
  /** Columns and rows that it gets when it is new, and fewer than which it is not drawn. */
  size: { w: number; h: number };
  least: { w: number; h: number };
  /** Whether it stands beside another on a phone. */
  half: boolean;
  /** The span that a new one covers; null takes the period at the top. */
  span: NamedPeriod | null;
}

const rules = (
  takes: readonly SourceKind[],
  most: number,
  [w, h]: [number, number],
  [leastW, leastH]: [number, number],
  { half = false, span = null }: Partial<Pick<KindRules, 'half' | 'span'>> = {},
): KindRules => ({ takes, most, size: { w, h }, least: { w: leastW, h: leastH }, half, span });

export const KIND_RULES: Record<ElementKind, KindRules> = {
  number: rules(['power', 'point', 'energy'], 1, [3, 2], [2, 2]),
  dial: rules(['point', 'power'], 1, [3, 4], [2, 3], { half: true }),
  level: rules(['point', 'power'], 1, [2, 4], [2, 3], { half: true }),
  trend: rules(['power', 'point'], 4, [6, 5], [3, 3]),
  bars: rules(['place'], 1, [4, 5], [3, 3]),
  ranking: rules(['place'], 1, [3, 5], [3, 3]),
  'typical-day': rules(['place'], 1, [6, 5], [4, 3], { span: '30-days' }),
  flow: rules(['place'], 1, [6, 5], [4, 4]),
  switch: rules(['switch'], 1, [4, 2], [3, 2]),
  command: rules(['point'], 1, [4, 2], [2, 2]),
  alerts: rules(['place'], 1, [4, 4], [3, 2]),
  job: rules(['place'], 1, [4, 2], [3, 2]),
  plan: rules(['plan'], 1, [5, 6], [3, 4]),
  picture: rules(['picture'], 1, [3, 4], [2, 2]),
  text: rules([], 0, [3, 2], [2, 1]),
};

/** A new element with nothing set: what it shows is all that it needs. */
export const newElement = (
  id: string,
  kind: ElementKind,
  shows: Source[],
  spot: Spot,
  more: Partial<DashboardElement> = {},
): DashboardElement => ({
  id,
  kind,
  title: null,
  spot,
  shows,
  band: null,
  scale: null,
  nominal: null,
  digits: null,
  span: KIND_RULES[kind].span,
  text: '',
  ...more,
});

/** An id that none of the elements has. */
export function freeId(elements: readonly { id: string }[]): string {
  const taken = new Set(elements.map((e) => e.id));
  let n = elements.length + 1;
  while (taken.has(`e${n}`)) n++;
  return `e${n}`;
}
