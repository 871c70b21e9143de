import type { PlaceSteps } from '@loka/contract/profile';
import { siteClock } from '@loka/core/time';
import { lasting, number, plain, type Part, type Sentence } from '../parts.js';

const DAY = 86_400_000;
/** As many loads, and as many kinds of steps that nobody has named. */
const LOADS = 12;
const KINDS = 4;

/** What was probably on, and what nobody has named. */
export function stepsSays(found: PlaceSteps, timeZone: string): Sentence[] {
  const { loads, groups, unexplained, count } = found;
  return [
    ...loads.slice(0, LOADS).map((load) => ofLoad(load, found, timeZone)),
    ...unnamed(groups, unexplained, count),
  ];
}

function ofLoad(
  { name, watts, seen, runs, on, energy, sure, by, others }: PlaceSteps['loads'][0],
  { from, to }: PlaceSteps,
  timeZone: string,
): Sentence {
  const how = `${by === 'test' ? 'found by a step test' : 'by its plate'} to take ${plain(watts, 'W')}`;
  if (runs.length === 0 || seen === null)
    return others > 0
      ? {
          says: [`Whether “${name}” was on cannot be told.`],
          known: `${how}; something of about as much came on ${others} ${others === 1 ? 'time' : 'times'}, no more than others do by chance`,
        }
      : { says: [`“${name}” was not seen to come on or go off.`], known: how };
  const days = Math.max(1, (to - from) / DAY);
  const last = runs.findLast((r) => r.start !== null)?.start;
  const lost = runs.filter((r) => r.lost).length;
  const times: Part[] = [{ digits: String(runs.length), unit: '' }, runs.length === 1 ? ' time' : ' times'];
  return {
    says:
      lost === runs.length
        ? [`“${name}” probably came on `, ...times, '; for how long cannot be told.']
        : [
            `“${name}” was probably on for ${lost > 0 ? 'at least ' : ''}`,
            ...lasting(on / days),
            days > 1 ? ' a day, ' : ', ',
            ...times,
            ' in all: ',
            number(energy, 'Wh'),
            '.',
          ],
    known: [
      how,
      `its steps are ${plain(seen, 'W')}`,
      ...(last ? [`last on ${siteClock(timeZone, last, 'ccc d LLL HH:mm')}`] : []),
      ...(lost > 0 ? [`of ${lost} one end was missed, as where it tapers off: they do not count`] : []),
      `${sureInWords(sure)}`,
    ].join('; '),
  };
}

const sureInWords = (sure: number): string =>
  sure >= 0.85
    ? 'fairly sure'
    : sure >= 0.65
      ? 'likely'
      : 'a guess: another load is as near, or steps do not fit';

function unnamed(
  groups: PlaceSteps['groups'],
  unexplained: PlaceSteps['unexplained'],
  count: number,
): Sentence[] {
  if (count === 0)
    return [
      {
        says: ['Nothing came on or went off that a minute shows.'],
        known: 'what lasts for less than three minutes is not seen',
      },
    ];
  if (unexplained.length === 0) return [{ says: ['Every step is explained.'], known: `${count} steps` }];
  const told = groups.slice(0, KINDS);
  const rest = unexplained.length - told.reduce((n, g) => n + g.ups + g.downs, 0);
  return [
    ...told.map(({ watts, ups, downs }): Sentence => ({
      says: [
        'Something of about ',
        number(watts, 'W'),
        ' that nobody has named came on ',
        { digits: String(ups), unit: '' },
        ' times and went off ',
        { digits: String(downs), unit: '' },
        ' times.',
      ],
      known: 'name it by a step test, or add it as a load with its power',
    })),
    ...(rest > 0
      ? [
          {
            says: [
              { digits: String(rest), unit: '' },
              rest === 1 ? ' step is' : ' steps are',
              ' of no kind and not explained.',
            ],
            known: `of ${count}; two loads that change in the same minute look like one`,
          },
        ]
      : []),
  ];
}
