import { LOAD_CHANGES, type LoadChangeKind, type WhatIfInput } from '@loka/contract/whatIf';
import type { HowTyped } from '../typed.js';

/** A question of what would be, as it stands in the address of the page. A file with hours of sunshine is not part of it. */
export type Question = Omit<WhatIfInput, 'from' | 'to' | 'hoursOfYear'>;

export const NOTHING_ELSE: Question = {
  change: 'none',
  hours: 4,
  instead: null,
  times: 1,
  roof: 0,
  like: null,
  likePeak: 10_000,
  store: 0,
  storePower: 5000,
  storeEfficiency: 0.9,
};

/** What of it is a plain number. */
export type NumberOf = 'hours' | 'times' | 'roof' | 'likePeak' | 'store' | 'storePower' | 'storeEfficiency';
export const TYPED: Record<NumberOf, HowTyped> = {
  hours: { label: 'Hours a day', unit: 'h', scale: 1 },
  times: { label: 'Multiplied by', unit: '×', scale: 1 },
  roof: { label: 'New roof plant', unit: 'kWp', scale: 1000 },
  likePeak: { label: 'Its peak', unit: 'kWp', scale: 1000 },
  store: { label: 'New store', unit: 'kWh', scale: 1000 },
  storePower: { label: 'Its power', unit: 'kW', scale: 1000 },
  storeEfficiency: { label: 'Efficiency', unit: '%', scale: 0.01 },
};

/** The same number where it says by how much all is later. */
export const LATER: HowTyped = { label: 'Later (− earlier)', unit: 'h', scale: 1 };

/** Whether anything is to be different. */
export const asksSomething = ({ change, roof, store, instead }: Question): boolean =>
  (change !== 'none' && !(change === 'instead' && instead === null)) || roof > 0 || store > 0;

const numbersOf = (text: string | null): (number | undefined)[] =>
  (text ?? '').split(',').map((part) => {
    const value = Number(part);
    return part !== '' && Number.isFinite(value) ? value : undefined;
  });
const isId = (id: number | undefined): id is number => id !== undefined && Number.isInteger(id) && id > 0;
const orUsual = (value: number | undefined, usual: number): number =>
  value !== undefined && value >= 0 ? value : usual;

/** The question of an address; what is not given, or makes no sense, is as usual. */
export function questionOf(search: URLSearchParams): Question {
  const usual = NOTHING_ELSE;
  const [kind = '', ...rest] = (search.get('if') ?? '').split(',');
  const change = LOAD_CHANGES.find((k) => k === kind) ?? usual.change;
  const [first, second] = numbersOf(rest.join(','));
  const [roof, like, likePeak] = numbersOf(search.get('roof'));
  const [store, storePower, storeEfficiency] = numbersOf(search.get('store'));
  const takesHours = change === 'hours' || change === 'later';
  return {
    change,
    hours: takesHours && first !== undefined ? first : usual.hours,
    instead: change === 'instead' && isId(first) ? first : null,
    times: change === 'instead' ? orUsual(second, usual.times) : usual.times,
    roof: orUsual(roof, 0),
    like: isId(like) ? like : null,
    likePeak: orUsual(likePeak, usual.likePeak),
    store: orUsual(store, 0),
    storePower: orUsual(storePower, usual.storePower),
    storeEfficiency: orUsual(storeEfficiency, usual.storeEfficiency),
  };
}

const PARTS: Record<LoadChangeKind, (q: Question) => (number | string)[]> = {
  none: () => [],
  standby: () => ['standby'],
  hours: ({ hours }) => ['hours', hours],
  later: ({ hours }) => ['later', hours],
  instead: ({ instead, times }) => ['instead', instead ?? '', times],
};

/** Writes the question into an address, as far as something is to be different. */
export function putQuestion(search: URLSearchParams, question: Question): void {
  const put = (name: string, parts: (number | string)[]) =>
    parts.length === 0 ? search.delete(name) : search.set(name, parts.join(','));
  put('if', PARTS[question.change](question));
  const { roof, like, likePeak, store, storePower, storeEfficiency } = question;
  put('roof', roof > 0 ? [roof, like ?? '', likePeak] : []);
  put('store', store > 0 ? [store, storePower, storeEfficiency] : []);
}
