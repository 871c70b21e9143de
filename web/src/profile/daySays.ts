import type { PlaceProfile } from '@loka/contract/profile';
import { dayAgainst, type DayKind } from '@loka/core/profile';
import { siteClock } from '@loka/core/time';
import { number, type Sentence } from './parts.js';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
/** As many stretches as are told. */
const TOLD = 3;
/** What differs by less is the same. */
const ALIKE = 0.02;
const ONE_OF: Record<DayKind, string> = {
  working: 'working days',
  closed: 'closed days',
  holiday: 'holidays',
};

/** What is unusual about a day among those of its kind. Empty where there are too few of them. */
export function daySays(
  { carpet, dayTypes, to }: PlaceProfile,
  row: number,
  kind: DayKind,
  zone: string,
): Sentence[] {
  const watts = Float64Array.from(carpet.watts, (w) => w ?? NaN);
  const found = dayAgainst({ ...carpet, watts }, row, dayTypes.find((d) => d.name === kind)?.rows ?? []);
  const day = carpet.days[row];
  if (!found || day === undefined) return [];
  const { energy, usual, days, stretches } = found;
  const name = siteClock(zone, day, 'ccc d LLL');
  const [gives, by] = [energy < 0 && usual < 0, Math.abs(energy) - Math.abs(usual)];
  const same = Math.abs(by) <= ALIKE * Math.max(Math.abs(energy), Math.abs(usual));
  const known = `the median of ${days} other ${ONE_OF[kind]} in the same hours`;
  const clock = (minute: number) =>
    `${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(Math.floor(minute % 60)).padStart(2, '0')}`;
  return [
    {
      says: [
        `${name} ${gives ? 'gave' : 'took'} `,
        number(gives ? -energy : energy, 'Wh'),
        ...(same
          ? [', as much as usual.']
          : [', ', number(Math.abs(by), 'Wh'), by > 0 ? ' more than usual.' : ' less than usual.']),
      ],
      known,
    },
    ...(stretches.length === 0
      ? [
          {
            says: [to < day + DAY - HOUR ? 'It has gone as usual so far.' : 'It went as usual all day.'],
            known:
              'never for half an hour outside of what 5 to 95 % of those days take, by anything that matters',
          },
        ]
      : stretches.slice(0, TOLD).map(({ from, to, above, watts: w, energy: wh }): Sentence => ({
          says: [
            `${clock(from)} to ${clock(to)}: `,
            number(Math.abs(w), 'W'),
            above ? ' above' : ' below',
            ' what is usual, ',
            number(Math.abs(wh), 'Wh'),
            above ? ' more.' : ' less.',
          ],
          known: `${above ? 'above the highest' : 'below the lowest'} that nine tenths of those days take then`,
        }))),
  ];
}
