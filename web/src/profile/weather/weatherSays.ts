import type { PlaceWeather } from '@loka/contract/profile';
import {
  atSameTemperature,
  degreesOf,
  LEAST_DAYS,
  LEAST_RANGE,
  type WeatherDay,
  type WeatherFit,
} from '@loka/core/profile';
import { number, percent, plain, type Part, type Sentence } from '../parts.js';

const degrees = (celsius: number): Part => ({ digits: celsius.toFixed(1), unit: '°C' });

/** The lowest and the highest mean of a day, °C. */
export function rangeOf(days: readonly WeatherDay[]): [low: number, high: number] {
  const all = days.map((d) => d.celsius);
  return [Math.min(...all), Math.max(...all)];
}

/** What the line tells of a kind of day at a temperature, Wh. */
export const lineAt = (fit: WeatherFit, kind: WeatherFit['kinds'][0], celsius: number): number =>
  kind.energy + fit.perKelvin * (degreesOf(celsius, fit.base, fit.side) - kind.degrees);

/** How the energy of days hangs on the temperature outside. */
export function weatherSays(found: PlaceWeather): Sentence[] {
  const { days, wholeDays, fit } = found;
  const known = `${days.length} of ${wholeDays} days known, with their temperature`;
  if (days.length < LEAST_DAYS)
    return [{ says: ['Too few days to tell.'], known: `${known}; ${LEAST_DAYS} are needed` }];
  const [low, high] = rangeOf(days);
  const span = `${low.toFixed(1)} to ${high.toFixed(1)} °C`;
  if (high - low < LEAST_RANGE)
    return [
      {
        says: ['Its days were too alike in temperature to tell.'],
        known: `${known}; ${span}, ${LEAST_RANGE} °C between them are needed`,
      },
    ];
  if (!fit)
    return [
      {
        says: ['No link with the temperature outside that stands out against chance.'],
        known: `${known}; ${span}`,
      },
    ];
  return [slope(fit, `${known}; ${span}`), fit.bends ? share(fit, days) : ends(fit, low, high)];
}

function slope(fit: WeatherFit, known: string): Sentence {
  const { perKelvin, uncertainty, side, base, baseUncertainty, explains } = fit;
  const where: Part[] = fit.bends
    ? [` a day for each degree ${side} `, degrees(base), '.']
    : [` a day for each degree that it is ${side === 'below' ? 'colder' : 'warmer'} outside.`];
  return {
    says: ['Takes ', number(perKelvin, 'Wh'), ' more', ...where],
    known: `± ${plain(uncertainty, 'Wh')}${
      baseUncertainty === null ? '' : `, the base ± ${baseUncertainty.toFixed(1)} °C`
    } (95 %); explains ${(100 * explains).toFixed(0)} % of how days of a kind differ; ${known}`,
  };
}

/** What the temperature is of all. */
function share({ perKelvin, base, side }: WeatherFit, days: readonly WeatherDay[]): Sentence {
  const degreeDays = days.reduce((all, d) => all + degreesOf(d.celsius, base, side), 0);
  const energy = days.reduce((all, d) => all + d.energy, 0);
  return {
    says: [
      number(perKelvin * degreeDays, 'Wh'),
      ...(energy > 0 ? [', ', percent((perKelvin * degreeDays) / energy), ' of what it took,'] : []),
      ` came with the ${side === 'below' ? 'cold' : 'warmth'}.`,
    ],
    known: `${degreeDays.toFixed(1)} degree days ${side} ${base.toFixed(1)} °C`,
  };
}

/** Where the line does not bend: what it tells at its ends. */
function ends(fit: WeatherFit, low: number, high: number): Sentence {
  const kind = fit.kinds.find((k) => k.kind === 'working') ?? (fit.kinds[0] as WeatherFit['kinds'][0]);
  return {
    says: [
      'At ',
      degrees(low),
      ' that makes ',
      number(lineAt(fit, kind, low), 'Wh'),
      ' a day, at ',
      degrees(high),
      ' ',
      number(lineAt(fit, kind, high), 'Wh'),
      '.',
    ],
    known: `${kind.kind} days; the coldest and the warmest of them; no bend is seen between`,
  };
}

/** The days against those of another period, at the same temperature. Empty where no day can be held against it. */
export function besideSays(now: PlaceWeather, then: PlaceWeather, words: string): Sentence[] {
  if (!then.fit)
    return [
      {
        says: [`For ${words} no line was found to compare with.`],
        known: `${then.days.length} of ${then.wholeDays} days known, with their temperature`,
      },
    ];
  const found = atSameTemperature(then.fit, now.days);
  if (!found) return [];
  const { energy, expected, uncertainty, days } = found;
  const by = energy - expected;
  const sure = Math.abs(by) > uncertainty;
  return [
    {
      says: [
        `By the line found for ${words} these days would have taken `,
        number(expected, 'Wh'),
        ' at the same temperatures; they took ',
        number(energy, 'Wh'),
        ...(sure && expected > 0
          ? [': ', percent(Math.abs(by) / expected), by > 0 ? ' more.' : ' less.']
          : [': no difference that these days can prove.']),
      ],
      known: `${by < 0 ? '−' : '+'}${plain(Math.abs(by), 'Wh')} ± ${plain(uncertainty, 'Wh')} (95 %); ${days} days`,
    },
  ];
}
