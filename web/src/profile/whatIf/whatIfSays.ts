import type { Site } from '@loka/contract/site';
import type { PlaceWhatIf } from '@loka/contract/whatIf';
import type { BeforeAfter } from '@loka/core/profile';
import { durationInWords } from '../../shared/duration.js';
import { amount, number, percent, type Part, type Sentence } from '../parts.js';

type Priced = Pick<Site, 'currency' | 'price' | 'carbon'>;
/** What differs by less is the same: of a year, Wh; of a demand, as a share of it. */
const SAME = 500;
const SAME_SHARE = 0.005;
/** A smaller share of what is taken says nothing. */
const TOLD_SHARE = 0.001;
const DAYS_OF_YEAR = 365.25;

/** What would be, the answer first. @param capacity of the new store, Wh */
export function whatIfSays(
  answer: PlaceWhatIf,
  name: string,
  site: Priced,
  { roof, store, hasStore }: { roof: number; store: number; hasStore: boolean },
): Sentence[] {
  const { load, supply, known, step, sun, stored, isSummed } = answer;
  const told = supply ?? load;
  if (known <= 0 || !told) return [];
  const basis = `at the rate of ${durationInWords(known)} by ${step > 60_000 ? 'quarter-hours' : 'minutes'}`;
  const of = supply
    ? isSummed
      ? 'the sum of what is measured behind the supply'
      : 'what comes from the supply'
    : `“${name}” alone; no supply is measured`;
  return [
    { says: saving(told, supply !== null, site), known: `${basis}; ${of}` },
    ...exported(told),
    ...demand(told, supply ? 'The site’s highest' : 'Its highest'),
    ...plant(sun, roof, told),
    ...ofStore(stored, store),
    ...(hasStore && (roof > 0 || store > 0 || load)
      ? [
          {
            says: ['The store on the site is assumed to do what it did.'],
            known:
              'it would charge and give at other times than were recorded; what it would add or spare is not in the figures',
          },
        ]
      : []),
  ];
}

function saving(
  { before, after }: BeforeAfter,
  fromSupply: boolean,
  { price, carbon, ...site }: Priced,
): Part[] {
  const less = before.taken - after.taken;
  const from = fromSupply ? ' from the supply' : '';
  if (Math.abs(less) < SAME) return [`Takes as much${from} as before.`];
  const kwh = Math.abs(less) / 1000;
  const says: Part[] = [
    'Takes ',
    number(Math.abs(less), 'Wh'),
    less > 0 ? ' less' : ' more',
    `${from} a year`,
  ];
  const share = before.taken > 0 ? Math.abs(less) / before.taken : 0;
  if (share >= TOLD_SHARE) says.push(', ', percent(share));
  if (price !== null) says.push(`: ${amount(kwh * price, site)}`);
  if (carbon !== null) says.push(price === null ? ': ' : ', ', number(kwh * carbon, 'g'), ' of CO₂');
  return [...says, '.'];
}

function exported({ before, after }: BeforeAfter): Sentence[] {
  const more = after.given - before.given;
  if (Math.abs(more) < SAME) return [];
  return [
    {
      says: ['Gives ', number(Math.abs(more), 'Wh'), more > 0 ? ' more' : ' less', ' to the supply a year.'],
      known: 'what is paid for that is not in the cost',
    },
  ];
}

function demand({ before, after }: BeforeAfter, whose: string): Sentence[] {
  if (!before.highest || !after.highest) return [];
  const [a, b] = [before.highest.watts, after.highest.watts];
  const same = Math.abs(a - b) < SAME_SHARE * Math.max(Math.abs(a), Math.abs(b), 1);
  return [
    {
      says: same
        ? [`${whose} quarter-hour stays at `, number(a, 'W'), '.']
        : [`${whose} quarter-hour goes from `, number(a, 'W'), ' to ', number(b, 'W'), '.'],
      known: 'of the days that were read; a single unusual quarter-hour in the year would set a new one',
    },
  ];
}

function plant(sun: number | null, roof: number, { before, after }: BeforeAfter): Sentence[] {
  if (sun === null || roof <= 0) return [];
  const away = Math.max(0, after.given - before.given);
  return [
    {
      says: [
        'The plant gives ',
        number(sun, 'Wh'),
        ' a year',
        ...(sun > 0
          ? [', of which ', percent(Math.min(1, Math.max(0, 1 - away / sun))), ' is used on the site.']
          : ['.']),
      ],
      known: `${Math.round(sun / roof)} h of its peak power; the sun of these days stands for the year: in winter that says too little, in summer too much`,
    },
  ];
}

function ofStore(stored: number | null, capacity: number): Sentence[] {
  if (stored === null || capacity <= 0) return [];
  return [
    {
      says: ['The store gives back ', number(stored, 'Wh'), ' a year.'],
      known: `${(stored / DAYS_OF_YEAR / capacity).toFixed(2)} times what it holds, a day; it takes only what would go to the supply`,
    },
  ];
}
