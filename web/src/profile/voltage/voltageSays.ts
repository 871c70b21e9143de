import type { PlaceVoltage } from '@loka/contract/profile';
import { BAND, type Excursion } from '@loka/core/profile';
import { siteClock } from '@loka/core/time';
import { durationInWords } from '../../shared/duration.js';
import { everyInWords } from '../backup/backupSays.js';
import { number, percent, type Part, type Sentence } from '../parts.js';

const DAY_CLOCK = 'ccc d LLL HH:mm';

/** How the voltages keep to their band, a sentence a line and one for what was short. */
export function voltageSays({ phases, nominal }: PlaceVoltage, zone: string): Sentence[] {
  const [low, high] = [BAND.low * nominal, BAND.high * nominal];
  const known = phases.filter((p) => p.known > 0);
  return [
    ...known.map((p): Sentence => {
      const { lowest, highest } = p;
      return {
        says: [
          p.phase === null ? 'Keeps' : `${p.phase} keeps`,
          ' to ',
          { digits: `${whole(low)} to ${whole(high)}`, unit: 'V' },
          ' for ',
          p.within === 1 ? { digits: '100', unit: '%' } : almost(p.within),
          ' of what was read',
          ...(lowest && highest
            ? [': lowest ', number(lowest.volts, 'V'), ', highest ', number(highest.volts, 'V')]
            : []),
          '.',
        ],
        known: `${p.known} of ${p.possible} ten-minute means known${lowest && highest ? `; lowest on ${siteClock(zone, lowest.at, DAY_CLOCK)}, highest on ${siteClock(zone, highest.at, DAY_CLOCK)}` : ''}`,
      };
    }),
    ...weeks(known, nominal, zone),
    ...short(known, 'dips', low, zone),
    ...short(known, 'swells', high, zone),
  ];
}

const whole = (volts: number): string => String(Math.round(10 * volts) / 10);

/** What is not all is not told as all. */
const almost = (share: number): Part =>
  share > 0.995 ? { digits: (Math.floor(10_000 * share) / 100).toFixed(2), unit: '%' } : percent(share);

type Phases = PlaceVoltage['phases'];

/** Of whole weeks what EN 50160 asks of the supply. */
function weeks(phases: Phases, nominal: number, zone: string): Sentence[] {
  const judged = phases.flatMap((p) =>
    p.weeks.filter((w) => w.keeps !== null).map((w) => ({ ...w, phase: p.phase })),
  );
  if (judged.length === 0) return [];
  const starts = [...new Set(judged.map((w) => w.start))];
  const broken = judged.filter((w) => !w.keeps);
  const rule = `EN 50160 asks for 95 % of a week’s ten-minute means within ±10 %, and all of them from ${whole(BAND.lowest * nominal)} to ${whole(BAND.high * nominal)} V`;
  const [first] = broken;
  if (!first)
    return [
      {
        says: [
          'Keeps to EN 50160 in ',
          starts.length === 1 ? 'the one whole week' : `all of ${starts.length} whole weeks`,
          '.',
        ],
        known: rule,
      },
    ];
  return [
    {
      says: [
        'Does not keep to EN 50160 in ',
        { digits: String(new Set(broken.map((w) => w.start)).size), unit: '' },
        ` of ${starts.length} whole weeks: in that from ${siteClock(zone, first.start, 'd LLL')} `,
        ...(first.phase === null ? [] : [`${first.phase} lay `]),
        ...(first.phase === null ? ['it lay '] : []),
        'within ±10 % for ',
        almost(first.within),
        '.',
      ],
      known: rule,
    },
  ];
}

/** What was short: single readings below the band, or above it. */
function short(phases: Phases, of: 'dips' | 'swells', limit: number, zone: string): Sentence[] {
  const below = of === 'dips';
  const all = phases
    .flatMap((p) => p[of].map((e: Excursion) => ({ ...e, phase: p.phase })))
    .sort((a, b) => (below ? a.volts - b.volts : b.volts - a.volts));
  const slowest = Math.max(...phases.map((p) => p.readEvery));
  const known = `${everyInWords(slowest)}: what is shorter is not seen`;
  const [worst] = all;
  const edge: Part = { digits: `${below ? 'below' : 'above'} ${whole(limit)}`, unit: 'V' };
  if (phases.length === 0) return [];
  if (!worst) return [{ says: ['No reading ', edge, '.'], known }];
  return [
    {
      says: [
        { digits: String(all.length), unit: '' },
        all.length === 1 ? ' time ' : ' times ',
        edge,
        below ? ', down to ' : ', up to ',
        number(worst.volts, 'V'),
        worst.phase === null ? '' : ` on ${worst.phase}`,
        ', ',
        siteClock(zone, worst.start, DAY_CLOCK),
        '.',
      ],
      known: `that one within ${durationInWords(worst.end - worst.start)}; ${known}`,
    },
  ];
}
