import type { BackupSource } from '@loka/core/profile';
import type { HowTyped } from '../typed.js';

const MINUTE = 60_000;

/** A question about a backup source as it stands in the address of the page. Powers in W, energy in Wh, shares from 0 to 1. */
export interface Question extends BackupSource {
  /** ms. */
  lasting: number;
  /** Other places that it carries as well. */
  also: number[];
  /** The place whose power charges it, and how many times as much of it there is. */
  sun: { node: number; times: number } | null;
}

export const USUAL: Question = {
  continuous: 2000,
  peak: 4000,
  peakFor: 2,
  energy: 2000,
  efficiency: 0.9,
  charged: 1,
  lasting: 12 * 60 * MINUTE,
  also: [],
  sun: null,
};

/** What of it is a plain number: in the address in this order. */
export const NUMBERS = [
  'continuous',
  'peak',
  'peakFor',
  'energy',
  'efficiency',
  'charged',
  'lasting',
] as const satisfies readonly (keyof Question)[];
export type NumberOf = (typeof NUMBERS)[number];

/** How it is typed: in which unit, and how many of the question's own units that is. */
export const TYPED: Record<NumberOf, HowTyped> = {
  continuous: { label: 'Continuous', unit: 'kW', scale: 1000 },
  peak: { label: 'Peak', unit: 'kW', scale: 1000 },
  peakFor: { label: 'Peak lasts', unit: 's', scale: 1 },
  energy: { label: 'Energy', unit: 'kWh', scale: 1000 },
  efficiency: { label: 'Efficiency', unit: '%', scale: 0.01 },
  charged: { label: 'Full at the start', unit: '%', scale: 0.01 },
  lasting: { label: 'Has to last', unit: 'h', scale: 60 * MINUTE },
};

/** The question of an address; what is not given, or makes no sense, is as usual. */
export function questionOf(search: URLSearchParams): Question {
  const numbers = (search.get('source') ?? '').split(',');
  const question = { ...USUAL };
  NUMBERS.forEach((name, i) => {
    const value = Number(numbers[i]);
    if (numbers[i] && Number.isFinite(value) && value >= 0) question[name] = value;
  });
  const ids = (search.get('with') ?? '').split(',').map(Number);
  const [node, times] = (search.get('sun') ?? '').split('x').map(Number);
  return {
    ...question,
    also: [...new Set(ids.filter(isId))],
    sun: isId(node) ? { node, times: times !== undefined && times >= 0 ? times : 1 } : null,
  };
}

const isId = (id: number | undefined): id is number => id !== undefined && Number.isInteger(id) && id > 0;

/** Writes the question into an address, as far as it is not the usual one. */
export function putQuestion(search: URLSearchParams, question: Question): void {
  const put = (name: string, value: string, usual: string) =>
    value === usual ? search.delete(name) : search.set(name, value);
  const numbers = (q: Question) => NUMBERS.map((name) => q[name]).join(',');
  put('source', numbers(question), numbers(USUAL));
  put('with', question.also.join(','), '');
  put('sun', question.sun ? `${question.sun.node}x${question.sun.times}` : '', '');
}

/** What the server is asked. */
export function backupAddress(
  place: number,
  from: number,
  to: number,
  { also, sun, ...source }: Question,
  at: number | null,
): string {
  const search = new URLSearchParams({
    nodes: [place, ...also].join(','),
    from: String(from),
    to: String(to),
  });
  for (const name of NUMBERS) search.set(name, String(source[name]));
  if (sun) {
    search.set('sun', String(sun.node));
    search.set('times', String(sun.times));
  }
  if (at !== null) search.set('at', String(at));
  return `/profile/backup?${search.toString()}`;
}

/** The source that is needed, in round figures that are not below it. */
export function roundedUp(value: number): number {
  const step = 10 ** Math.floor(Math.log10(Math.max(value, 1)) - 1);
  return Math.ceil(Number((value / step).toPrecision(12))) * step;
}
