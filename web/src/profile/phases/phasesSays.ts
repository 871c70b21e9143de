import type { PlacePhases } from '@loka/contract/profile';
import { siteClock } from '@loka/core/time';
import { number, percent, type Part, type Sentence } from '../parts.js';

const LINES = ['L1', 'L2', 'L3'];
/** What the figures of the neutral depend on. */
const KNOWN =
  'by active power at the nominal voltage, as if all lines had the same power factor; harmonics, which add up in the neutral, are not in it';

/** How the lines of a place are loaded, the neutral, and which circuit would better be on another line. */
export function phasesSays(
  { phases, circuits }: PlacePhases,
  nameOf: (nodeId: number) => string,
  zone: string,
): Sentence[] {
  if (!phases) return [];
  const { lines, now, moves } = phases;
  const all = lines.reduce((sum, l) => sum + Math.abs(l.mean), 0);
  return [
    {
      says: lines.flatMap((l, k): Part[] => [
        k === 0 ? 'In the mean ' : k === lines.length - 1 ? ' and ' : ', ',
        `${LINES[k]} `,
        l.mean < 0 ? 'gives ' : 'takes ',
        number(Math.abs(l.mean), 'W'),
        ...(k === lines.length - 1 ? ['.'] : []),
      ]),
      known: lines
        .map((l, k) => `${LINES[k]} ${all > 0 ? ((100 * Math.abs(l.mean)) / all).toFixed(0) : '0'} %`)
        .join(', '),
    },
    {
      says: lines.flatMap((l, k): Part[] => [
        k === 0 ? 'At most ' : k === lines.length - 1 ? ' and ' : ', ',
        `${LINES[k]} `,
        number(l.highest.watts, 'W'),
        ...(k === lines.length - 1 ? ['.'] : []),
      ]),
      known: lines
        .map(
          (l, k) =>
            `${LINES[k]} on ${siteClock(zone, l.highest.at, 'ccc d LLL HH:mm')}, below ${(l.p95 / 1000).toFixed(2)} kW for 95 % of the time`,
        )
        .join('; '),
    },
    {
      says: [
        'The neutral carries ',
        number(now.neutralMean, 'A'),
        ' in the mean, and less than ',
        number(now.neutralP95, 'A'),
        ' for ',
        percent(0.95),
        ' of the time.',
      ],
      known: KNOWN,
    },
    ...moves.map((m, i): Sentence => ({
      says: [
        i === 0 ? 'Put ' : 'Or put ',
        `“${nameOf(circuits[m.circuit] as number)}” from ${LINES[m.from]} on ${LINES[m.to]}: the neutral would carry `,
        number(m.neutralMean, 'A'),
        ' in the mean, the busiest line at most ',
        number(m.busiest, 'W'),
        '.',
      ],
      known: `instead of ${now.neutralMean.toFixed(1)} A and ${(now.busiest / 1000).toFixed(2)} kW; ${i === 0 ? `the best of ${2 * circuits.length} single moves` : 'another single move'}, minute by minute over the period`,
    })),
    ...(moves.length === 0 && circuits.length > 0
      ? [
          {
            says: ['No single circuit would be better on another line.'],
            known: `${circuits.length} single-phase circuits were tried on each of the two others; none lowers the mean of the neutral by a twentieth`,
          },
        ]
      : []),
  ];
}
