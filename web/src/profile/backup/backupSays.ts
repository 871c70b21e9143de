import type { PlacesBackup } from '@loka/contract/backup';
import { medianLasting, type BackupEnd } from '@loka/core/profile';
import { siteClock } from '@loka/core/time';
import { durationInWords } from '../../shared/duration.js';
import { lasting, number, percent, type Part, type Sentence } from '../parts.js';

const QUARTER = 900_000;
const HOUR = 3_600_000;
/** A load that gives for more of the time than this is told to. */
const GIVES = 0.01;

const DAY_CLOCK = 'ccc d LLL HH:mm';

/** What follows for the loads from a source, the answer first. */
export function backupSays(
  answer: PlacesBackup,
  nameOf: (nodeId: number) => string,
  timeZone: string,
  now: number,
): Sentence[] {
  if (answer.outages.starts.length === 0) return [];
  return [
    verdict(answer),
    ...lengths(answer, timeZone),
    ...ends(answer, nameOf),
    ...highest(answer, timeZone),
    ...need(answer),
    ...ifNow(answer, timeZone, now),
    ...timers(answer, nameOf),
    ...givers(answer, nameOf),
  ];
}

function verdict({ figures: { carried, failed, unknown }, lasting: wanted }: PlacesBackup): Sentence {
  const tried = carried + failed;
  const known = `the supply failed at each of ${tried} quarter-hours${unknown > 0 ? `; of ${unknown} more what was recorded ends before` : ''}`;
  if (tried === 0)
    return {
      says: ['What was recorded is too short to tell whether it lasts ', ...lasting(wanted), '.'],
      known,
    };
  if (failed === 0)
    return { says: ['Yes: lasts ', ...lasting(wanted), ' whenever the supply fails.'], known };
  if (carried === 0)
    return { says: ['No: never lasts ', ...lasting(wanted), ', whenever the supply fails.'], known };
  return {
    says: [
      'Lasts ',
      ...lasting(wanted),
      ' in ',
      percent(carried / tried),
      ' of the failures, in ',
      percent(failed / tried),
      ' not.',
    ],
    known,
  };
}

function lengths({ figures: { median, worst } }: PlacesBackup, zone: string): Sentence[] {
  if (!worst) return [];
  return [
    {
      says: [
        ...(median === null
          ? ['Usually lasts longer than the record']
          : ['Lasts ', ...lasting(median), ' as a rule']),
        ', at worst ',
        ...(worst.lasts === 0 ? ['not at all'] : lasting(worst.lasts)),
        '.',
      ],
      known: `the worst on ${siteClock(zone, worst.start, DAY_CLOCK)}${median === null ? '' : '; half of the failures are carried longer'}`,
    },
  ];
}

const END_WORDS: Record<Exclude<BackupEnd, 'unknown'>, string> = {
  energy: 'because its energy is used up',
  peak: 'because of a peak above what it gives',
  continuous: 'because more than its continuous power is drawn for too long',
};

/** What ends it before its time, and with which load. */
function ends(
  { outages, loads, figures, lasting: wanted }: PlacesBackup,
  nameOf: (id: number) => string,
): Sentence[] {
  if (figures.failed === 0) return [];
  const failed = outages.ends
    .map((_, i) => i)
    .filter((i) => outages.ends[i] !== 'unknown' && (outages.lasts[i] as number) < wanted);
  const counted = (['energy', 'peak', 'continuous'] as const)
    .map((why) => ({ why, all: failed.filter((i) => outages.ends[i] === why) }))
    .filter(({ all }) => all.length > 0)
    .sort((a, b) => b.all.length - a.all.length);
  const says = counted.flatMap(({ why, all }, k): Part[] => [
    k === 0 ? 'Ends ' : ', ',
    END_WORDS[why],
    ...(counted.length > 1 ? [' in ', percent(all.length / failed.length)] : []),
  ]);
  const blamed = loads.map((_, k) => failed.filter((i) => outages.by[i] === k).length);
  const most = blamed.indexOf(Math.max(...blamed));
  return [
    {
      says: [...says, '.'],
      known:
        loads.length > 1
          ? `“${nameOf((loads[most] as PlacesBackup['loads'][0]).nodeId)}” draws the most in ${blamed[most]} of ${failed.length} of these failures`
          : `${failed.length} failures`,
    },
  ];
}

function highest({ highest: top, loads, step }: PlacesBackup, zone: string): Sentence[] {
  if (!top) return [];
  const slowest = Math.max(...loads.map((l) => l.readEvery));
  const says: Part[] = ['Asks for ', number(top.watts, 'W'), ' at most'];
  if (top.together > 1.01 * top.watts)
    says.push(', for ', number(top.together, 'W'), ' if the highest of all loads fall together');
  return [
    {
      says: [...says, '.'],
      known: `on ${siteClock(zone, top.at, DAY_CLOCK)}; ${step > 60_000 ? 'of so long a period by quarter-hours; ' : ''}${everyInWords(slowest)}: a shorter peak, as when a motor starts, is not seen`,
    },
  ];
}

/** The interval of the slowest, which may have been another one for a part of the time. */
export const everyInWords = (ms: number): string => `read every ${durationInWords(ms)} at the slowest`;

function need({ need: least, lasting: wanted, source: { peakFor } }: PlacesBackup): Sentence[] {
  if (!least) return [];
  return [
    {
      says: [
        'To last ',
        ...lasting(wanted),
        ' takes ',
        number(least.continuous, 'W'),
        ' all the time, ',
        number(least.peak, 'W'),
        ` for ${peakFor} s, and `,
        number(least.energy, 'Wh'),
        '.',
      ],
      known: `the least that carries all of ${least.starts} failures; for 95 of 100 ${(least.mostly / 1000).toPrecision(3)} kWh do`,
    },
  ];
}

/** Nobody knows what comes; of the days before at this time of day it is known. */
function ifNow({ outages, to }: PlacesBackup, zone: string, now: number): Sentence[] {
  if (now - to > HOUR) return [];
  const clock = siteClock(zone, Math.floor(now / QUARTER) * QUARTER, 'HH:mm');
  const alike = outages.starts.flatMap((start, i) =>
    siteClock(zone, start, 'HH:mm') === clock
      ? [{ lasts: outages.lasts[i] as number, ends: outages.ends[i] as BackupEnd }]
      : [],
  );
  const median = alike.length < 3 ? null : medianLasting(alike);
  if (median === null) return [];
  return [
    {
      says: [
        'If the supply failed now it would last until about ',
        { digits: siteClock(zone, now + median, median > 12 * HOUR ? 'ccc HH:mm' : 'HH:mm'), unit: '' },
        '.',
      ],
      known: `by ${alike.length} days on which it failed at this time`,
    },
  ];
}

const timers = ({ loads }: PlacesBackup, nameOf: (id: number) => string): Sentence[] =>
  loads.flatMap(({ nodeId, recurring }) => {
    const one = [...recurring].sort((a, b) => b.watts - a.watts)[0];
    return one
      ? [
          {
            says: [
              `“${nameOf(nodeId)}” goes to `,
              number(one.watts, 'W'),
              ' every ',
              ...lasting(one.recurrence.period),
              ', by a timer as it seems.',
            ],
            known:
              'whether that timer runs on without power, or starts again when it returns, cannot be seen from here',
          },
        ]
      : [];
  });

const givers = ({ loads }: PlacesBackup, nameOf: (id: number) => string): Sentence[] =>
  loads
    .filter((l) => l.gives > GIVES)
    .map(({ nodeId, gives }) => ({
      says: [`“${nameOf(nodeId)}” gave power for `, percent(gives), ' of the time.'],
      known: 'that counts as nothing drawn, and charges nothing',
    }));
