import type { PlaceProfile } from '@loka/contract/profile';
import { mediansDiffer, type RunKind } from '@loka/core/profile';
import { durationInWords } from '../shared/duration.js';
import { lasting, number, percent, type Part, type Sentence } from './parts.js';

const DAY = 86_400_000;
const QUARTER = 900_000;
/** So small a difference is none. */
const ALIKE = 0.005;
/** Kinds of runs are the same where one lasts at most so many times as long as the other. */
const SAME_KIND = 1.5;
const MOST_KINDS = 4;

/** What a place does against what it did in another period. Empty where one of them was not read. */
export function comparedSays(now: PlaceProfile, then: PlaceProfile): Sentence[] {
  if (now.known <= 0 || then.known <= 0) return [];
  // A few hours of a month say nothing about its days.
  const little = [now, then].filter((p) => p.known < READ * (p.to - p.from));
  if (little.length > 0)
    return [
      {
        says: ['Too little was read to compare them.'],
        known: `${read(now)}; before ${read(then)}; half of each is needed`,
      },
    ];
  return [energy(now, then), ...runs(now, then), ...standby(now, then), ...demand(now, then)];
}

/** Of a period so much has to be read. */
const READ = 0.5;
/** From so many times on it is told how many. */
const TIMES = 3;

const read = (p: PlaceProfile): string =>
  `${durationInWords(p.known)} read, ${((100 * p.known) / Math.max(1, p.to - p.from)).toFixed(1)} %`;

/** Two figures, and how far they differ. */
const beside = (lead: string, now: number, then: number, unit = 'W', each = ''): Part[] => [
  lead,
  number(now, unit),
  `${each}, before `,
  number(then, unit),
  ': ',
  ...than(now, then),
  '.',
];

/** "12 % more than", "as much as". */
const than = (a: number, b: number): Part[] =>
  Math.abs(a - b) <= ALIKE * Math.max(Math.abs(a), Math.abs(b))
    ? ['as much']
    : b > 0 && a >= TIMES * b
      ? [{ digits: (a / b).toPrecision(2), unit: '' }, ' times as much']
      : [...(b !== 0 ? [percent(Math.abs((a - b) / b)), ' '] : []), a > b ? 'more' : 'less'];

function energy(now: PlaceProfile, then: PlaceProfile): Sentence {
  const [a, b] = [(now.energy / now.known) * DAY, (then.energy / then.known) * DAY];
  const gives = a < 0 && b < 0;
  return {
    says: beside(gives ? 'Gives ' : 'Takes ', gives ? -a : a, gives ? -b : b, 'Wh', ' a day'),
    known: `${read(now)}; before ${read(then)}`,
  };
}

function runs({ runs: a }: PlaceProfile, { runs: b }: PlaceProfile): Sentence[] {
  if (!a || !b) return [];
  const free = [...b.kinds];
  const matched = a.kinds.slice(0, MOST_KINDS).map((kind) => {
    const apart = (k: RunKind) => Math.abs(Math.log(k.on.median / kind.on.median));
    const before = [...free].sort((x, y) => apart(x) - apart(y))[0];
    if (!before || apart(before) > Math.log(SAME_KIND)) return { kind, before: null };
    free.splice(free.indexOf(before), 1);
    return { kind, before };
  });
  return [
    ...matched.map(({ kind, before }) => (before ? sameKind(kind, before) : newKind(kind))),
    ...free.slice(0, MOST_KINDS).map((kind): Sentence => ({
      says: ['Runs of about ', ...lasting(kind.on.median), ' no longer come.'],
      known: `before there were ${kind.count}`,
    })),
  ];
}

function sameKind({ on, count }: RunKind, { on: before, count: then }: RunKind): Sentence {
  const by = on.median - before.median;
  const differs = mediansDiffer(on, before) && Math.abs(by) > ALIKE * before.median && Math.abs(by) >= 1000;
  return {
    says: differs
      ? [
          'Runs that took ',
          ...lasting(before.median),
          ' take ',
          ...lasting(on.median),
          ', ',
          ...lasting(Math.abs(by)),
          by > 0 ? ' longer.' : ' shorter.',
        ]
      : ['Runs of ', ...lasting(on.median), ' take as long as before.'],
    known: `${told(count, on)}; before ${told(then, before)}`,
  };
}

const told = (count: number, { low, high }: RunKind['on']): string =>
  exact(low) === exact(high)
    ? `${count}, as a rule of ${exact(low)}`
    : `${count}, half of them of ${exact(low)} to ${exact(high)}`;

/** To the second where it is not a whole minute, for differences of some seconds are told. */
const exact = (ms: number): string => {
  const seconds = Math.round(ms / 1000);
  return seconds < 60 || seconds >= 7200 || seconds % 60 === 0
    ? durationInWords(ms)
    : `${Math.floor(seconds / 60)} min ${seconds % 60} s`;
};

const newKind = ({ on, count }: RunKind): Sentence => ({
  says: ['Runs of about ', ...lasting(on.median), ' have come.'],
  known: `${count} of them; before there were none`,
});

function standby({ levels: a }: PlaceProfile, { levels: b }: PlaceProfile): Sentence[] {
  const [now, then] = [a.levels[0], b.levels[0]];
  if (!now || !then || now.varies || then.varies || now.watts < -a.floor || then.watts < -b.floor) return [];
  if (Math.max(now.watts, then.watts) < a.floor) return [];
  return [
    {
      says: beside('Stands by at ', now.watts, then.watts),
      known: `for ${(100 * now.time).toFixed(0)} % of the time, before for ${(100 * then.time).toFixed(0)} %`,
    },
  ];
}

function demand(now: PlaceProfile, then: PlaceProfile): Sentence[] {
  const of = ({ demand: all }: PlaceProfile) => all.find((d) => d.block === QUARTER)?.highest;
  const [a, b] = [of(now), of(then)];
  if (!a || !b || Math.max(a.watts, b.watts) <= now.levels.floor) return [];
  return [
    {
      says: beside('Highest quarter-hour ', a.watts, b.watts),
      known: `load factor ${factor(now)}, before ${factor(then)}`,
    },
  ];
}

const factor = ({ duration }: PlaceProfile): string => duration?.loadFactor?.toFixed(2) ?? 'not known';
