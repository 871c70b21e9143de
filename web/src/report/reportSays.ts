import type { EnergyReport, ReportFigures, ReportUse } from '@loka/contract/report';
import { rollup } from 'd3-array';
import { siteClock } from '@loka/core/time';
import { findingsOf } from '../profile/findings.js';
import { amount, number, percent, plain, type Part, type Sentence } from '../profile/parts.js';
import { durationInWords } from '../shared/duration.js';

const DAY = 86_400_000;
const HOUR = 3_600_000;
/** So many of the largest, and of the most changed, are named. */
const NAMED = 3;
/** A change of a use is told from this share of itself, and of all that was taken. */
const CHANGED = 0.05;
const CHANGED_OF_ALL = 0.01;
/** Smaller shares that nobody meters are the meters' own errors. */
const UNMETERED = 0.01;
/** Of another period less than this was read: nothing is compared. */
const READ = 0.5;
/** What differs by less is the same. */
const ALIKE = 0.005;

/** What stands out in a report, the plainest first. */
export function reportSays(report: EnergyReport): Sentence[] {
  return [
    ...total(report),
    ...against(report, report.before, 'in the period before'),
    ...against(report, report.lastYear, 'in the same period of the year before'),
    ...largest(report),
    ...changes(report),
    ...unmetered(report),
    ...peak(report),
    ...base(report),
    ...unusual(report),
    ...alerts(report),
    ...coverage(report),
  ];
}

/** Wh a day of the time that is known; null where too little is. */
export function perDay({ from, to, coverage: known }: ReportFigures, wh: number | null): number | null {
  const days = (known * (to - from)) / DAY;
  return wh === null || known < READ || days <= 0 ? null : wh / days;
}

function total({ total: t, site }: EnergyReport): Sentence[] {
  const { taken, given, from, to, coverage: known } = t;
  const gives = (given ?? 0) > (taken ?? 0);
  const wh = gives ? given : taken;
  const rate = perDay(t, wh);
  if (wh === null || known <= 0) return [];
  const says: Part[] = [gives ? 'Gave ' : 'Took ', number(wh, 'Wh')];
  if (!gives && site.price !== null) says.push(`, ${amount((wh / 1000) * site.price, site)}`);
  if (rate !== null) says.push(': ', number(rate, 'Wh'), ' a day');
  if (!gives && (given ?? 0) > 0) says.push('; gave ', number(given as number, 'Wh'));
  const carbon = gives || site.carbon === null ? '' : `; ${plain((wh / 1000) * site.carbon, 'g')} of CO₂`;
  return [
    {
      says: [...says, '.'],
      known: `${durationInWords(to - from)}, ${(100 * known).toFixed(1)} % of it read${carbon}`,
    },
  ];
}

function against({ total: now }: EnergyReport, then: ReportFigures | null, when: string): Sentence[] {
  if (!then) return [];
  const [a, b] = [perDay(now, now.taken), perDay(then, then.taken)];
  const days = durationInWords(then.to - then.from);
  if (a === null || b === null || b <= 0)
    return then.coverage >= READ
      ? []
      : [
          {
            says: [`Too little was read ${when} to compare with it.`],
            known: `${(100 * then.coverage).toFixed(1)} % of ${days}`,
          },
        ];
  const by = (a - b) / b;
  return [
    {
      says:
        Math.abs(by) < ALIKE
          ? [`As much a day as ${when}.`]
          : [percent(Math.abs(by)), by > 0 ? ' more' : ' less', ` a day than ${when}.`],
      known: `${plain(a, 'Wh')} a day against ${plain(b, 'Wh')} in ${days}, ${(100 * then.coverage).toFixed(1)} % of them read`,
    },
  ];
}

const all = (uses: readonly ReportUse[]): number => uses.reduce((sum, u) => sum + Math.max(0, u.energy), 0);

function largest({ uses }: EnergyReport): Sentence[] {
  const sum = all(uses);
  const named = uses.filter((u) => !u.unmetered && u.energy > 0).slice(0, NAMED);
  if (named.length < 2 || sum <= 0) return [];
  return [
    {
      says: [
        ...named.flatMap((u, i): Part[] => [
          ...(i > 0 ? [i === named.length - 1 ? ' and ' : ', '] : []),
          `${u.name} `,
          percent(u.energy / sum),
        ]),
        ' of what was used.',
      ],
      known: `of ${uses.length} uses, each counted once`,
    },
  ];
}

function changes({ uses }: EnergyReport): Sentence[] {
  const rates = uses.reduce((sum, u) => sum + Math.max(0, u.perDay ?? 0), 0);
  return uses
    .flatMap((u) => {
      if (u.unmetered || u.perDay === null || u.before === null) return [];
      const by = u.perDay - u.before;
      const isTold =
        Math.abs(by) >= CHANGED * Math.max(u.perDay, u.before) && Math.abs(by) >= CHANGED_OF_ALL * rates;
      return isTold ? [{ ...u, perDay: u.perDay, before: u.before, by }] : [];
    })
    .sort((a, b) => Math.abs(b.by) - Math.abs(a.by))
    .slice(0, NAMED)
    .map(({ name, perDay: now, before, by }) => ({
      says: [
        `${name}: `,
        number(Math.abs(by), 'Wh'),
        by > 0 ? ' more' : ' less',
        ' a day than in the period before',
        ...(before > 0 ? [', ', percent(Math.abs(by) / before)] : []),
        '.',
      ],
      known: `${plain(now, 'Wh')} a day, before ${plain(before, 'Wh')}`,
    }));
}

function unmetered({ uses }: EnergyReport): Sentence[] {
  const sum = all(uses);
  const nobody = uses.filter((u) => u.unmetered);
  const wh = nobody.reduce((s, u) => s + u.energy, 0);
  if (sum <= 0 || wh < UNMETERED * sum) return [];
  return [
    {
      says: [percent(wh / sum), ' of what was used was not metered.'],
      known: nobody.map((u) => `${u.name}: ${plain(u.energy, 'Wh')}`).join('; '),
    },
  ];
}

function peak({ peak: found, site }: EnergyReport): Sentence[] {
  if (!found) return [];
  const { at, watts, parts } = found;
  const named = parts.slice(0, NAMED);
  return [
    {
      says: [
        'Highest quarter-hour ',
        number(watts, 'W'),
        ', on ',
        siteClock(site.timeZone, at, 'ccc d LLL HH:mm'),
        ...named.flatMap((p, i): Part[] => [i === 0 ? ': ' : ', ', `${p.name} `, number(p.watts, 'W')]),
        '.',
      ],
      known:
        parts.length > named.length
          ? `${parts.length - named.length} more had a part in it`
          : 'by the clock, as a meter for billing counts',
    },
  ];
}

function base({ profile: { duration, known, energy } }: EnergyReport): Sentence[] {
  if (!duration || duration.base <= 0 || energy <= 0) return [];
  const share = (duration.base * (known / HOUR)) / energy;
  if (share > 1) return [];
  return [
    {
      says: ['Base load ', number(duration.base, 'W'), ': ', percent(share), ' of the energy.'],
      known: 'drawn or more for 95 % of the time',
    },
  ];
}

/** Of the loads only what is not as usual: the rest stands with each. */
const unusual = ({ loads, site, madeAt }: EnergyReport): Sentence[] =>
  loads.flatMap(({ name, profile }) =>
    findingsOf(profile, site, madeAt)
      .filter((f) => f.unusual)
      .map(({ says: [first, ...rest], known }) => ({ says: [`${name}: ${lower(first)}`, ...rest], known })),
  );

const lower = (part: Part | undefined): string =>
  typeof part === 'string' ? part.charAt(0).toLowerCase() + part.slice(1) : '';

function alerts({ alerts: raised, ended }: EnergyReport): Sentence[] {
  if (raised.length === 0)
    return [
      {
        says: [ended ? 'No alert was raised.' : 'No alert was raised yet.'],
        known: 'of those that stand on the site',
      },
    ];
  const counted = [
    ...rollup(
      raised,
      (list) => list.length,
      (a) => a.name,
    ),
  ].sort((a, b) => b[1] - a[1]);
  const [name, count] = counted[0] as [string, number];
  const open = raised.filter((a) => a.returnedAt === null).length;
  return [
    {
      says: [
        { digits: String(raised.length), unit: '' },
        raised.length === 1 ? ' alert' : ' alerts',
        counted.length === 1 ? `: “${name}”.` : `, most often “${name}”, ${count} times.`,
      ],
      known: open === 0 ? 'all of them are over' : `${open} not over`,
    },
  ];
}

function coverage({ partly }: EnergyReport): Sentence[] {
  if (partly.length === 0) return [];
  const named = partly.slice(0, NAMED);
  const more = partly.length - named.length;
  return [
    {
      says: [
        'Read in part only: ',
        ...named.flatMap((p, i): Part[] => [...(i > 0 ? [', '] : []), `${p.name} `, percent(p.coverage)]),
        more > 0 ? `, and ${more} more.` : '.',
      ],
      known: 'what was not read is not in the figures',
    },
  ];
}
