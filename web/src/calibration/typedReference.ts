import {
  NAMEPLATE_PERCENT,
  HANDHELD_PERCENT,
  resistiveWatts,
  type ReferenceKind,
  type SaidReference,
} from '@loka/core/calibration';
import { currentOfLoad } from '@loka/core/power';
import { quantityInfo, unitFactor, type Quantity } from '@loka/core/quantities';

/** Everything that can be typed of references; what belongs to another kind stays as it was. */
export interface TypedReference {
  kind: ReferenceKind;
  /** What the instrument shows: a number, or the lowest and the highest of one that flutters. */
  shows: string;
  instrument: string;
  /** One of the site's instruments; null for another. */
  instrumentId: number | null;
  percent: string;
  load: string;
  watts: string;
  /** V now; null while the measured voltage holds. */
  volts: string | null;
  factor: string;
  heater: boolean;
  ratedVolts: string;
  platePercent: string;
  meterId: number | null;
  meterPercent: string;
  benchLoad: string;
  benchError: string;
  benchPercent: string;
}

export const nothingTyped = (nominalVolts: number): TypedReference => ({
  kind: 'zero',
  shows: '',
  instrument: 'Handheld',
  instrumentId: null,
  percent: String(HANDHELD_PERCENT),
  load: 'Heater',
  watts: '',
  volts: null,
  factor: '1',
  heater: true,
  ratedVolts: String(nominalVolts),
  platePercent: String(NAMEPLATE_PERCENT),
  meterId: null,
  meterPercent: '1',
  benchLoad: '',
  benchError: '',
  benchPercent: '0.1',
});

/** A number as it is typed, with comma or point; null where it is none. */
export function typedNumber(text: string): number | null {
  const value = Number(text.trim().replace(',', '.'));
  return text.trim() === '' || !Number.isFinite(value) ? null : value;
}

/** What was typed without its unit, and the factor to the base unit; a fault where the unit is of another quantity. */
function withoutUnit(
  text: string,
  quantity: Quantity,
): { number: string; factor: number } | { fault: string } {
  const [, number = '', unit = ''] = /^(.*?)\s*([a-zµ°%Ω]*)\s*$/iu.exec(text) ?? [];
  // What has no digit is no number with a unit.
  if (unit === '' || number === '') return { number: text, factor: 1 };
  const factor = unitFactor(quantity, unit);
  if (factor !== undefined) return { number, factor };
  const { label, unit: base } = quantityInfo(quantity);
  return { fault: `“${unit}” is not a unit of ${label.toLowerCase()}; type it in ${base}.` };
}

/** A number with or without its unit, in the base unit; null where it is none. */
function typedValue(text: string, quantity: Quantity): number | null | { fault: string } {
  const said = withoutUnit(text, quantity);
  if ('fault' in said) return said;
  const value = typedNumber(said.number);
  return value === null ? null : value * said.factor;
}

/** "11.35", or "11.2 – 11.5" of an instrument that flutters; null where it is neither. */
export function shown(text: string): { reference: number; flutter: number; digit: number } | null {
  const parts = text.split(/\s*(?:–|\.\.|…|\bto\b|(?<=\d)\s*-)\s*/).map((part) => part.trim());
  const numbers = parts.map(typedNumber);
  const [lowest, highest = lowest] = numbers;
  if (parts.length > 2 || lowest == null || highest == null) return null;
  const decimals = Math.max(...parts.map((part) => part.split(/[.,]/)[1]?.length ?? 0));
  return {
    reference: Number(((lowest + highest) / 2).toPrecision(12)),
    flutter: Math.abs(highest - lowest) / 2,
    digit: 10 ** -decimals,
  };
}

/** The reference that is meant, or why there is none yet. @param volts V that are measured now; null where none are */
export function saidReference(
  typed: TypedReference,
  quantity: Quantity,
  volts: number | null,
): (SaidReference & { error?: number; instrumentId?: number }) | { fault: string } {
  const { kind } = typed;
  const percentOf = (text: string) => typedNumber(text) ?? NaN;
  const percent = {
    zero: () => 0,
    instrument: () => percentOf(typed.percent),
    load: () => percentOf(typed.platePercent),
    meter: () => percentOf(typed.meterPercent),
    bench: () => percentOf(typed.benchPercent),
  }[kind]();
  if (!(percent >= 0 && percent <= 100)) return { fault: 'Its tolerance is a number of percent.' };
  if (kind === 'zero') return { kind, reference: 0 };
  if (kind === 'meter')
    return typed.meterId === null ? { fault: 'Choose the other meter.' } : { kind, reference: NaN, percent };
  if (kind === 'bench') {
    const reference = typedValue(typed.benchLoad, quantity);
    if (isFault(reference)) return reference;
    const error = typedNumber(typed.benchError);
    return reference === null || reference === 0 || error === null
      ? { fault: 'Type the load, and the error the bench found at it.' }
      : { kind, reference, error, name: 'Test bench', percent };
  }
  if (kind === 'instrument') {
    const number = withoutUnit(typed.shows, quantity);
    if ('fault' in number) return number;
    const said = shown(number.number);
    const { factor } = number;
    return said
      ? {
          kind,
          reference: said.reference * factor,
          flutter: said.flutter * factor,
          digit: said.digit * factor,
          name: typed.instrument.trim(),
          percent,
          ...(typed.instrumentId !== null && { instrumentId: typed.instrumentId }),
        }
      : { fault: 'Type what it shows, for example 11.35, or 11.2 – 11.5 when it flutters.' };
  }
  const watts = typedValue(typed.watts, 'active-power');
  const rated = typedValue(typed.ratedVolts, 'voltage');
  const now = typed.volts === null ? volts : typedValue(typed.volts, 'voltage');
  const factor = typedNumber(typed.factor);
  for (const value of [watts, rated, now]) if (isFault(value)) return value;
  if (!isNumber(watts) || !isNumber(now) || factor === null || !isNumber(rated) || !(rated > 0))
    return { fault: 'Power, voltages and power factor are numbers.' };
  try {
    const drawn = typed.heater ? resistiveWatts(watts, now, rated) : watts;
    const reference =
      quantity === 'active-power' ? drawn : currentOfLoad(drawn, now, typed.heater ? 1 : factor);
    return { kind, reference, name: typed.load.trim(), percent };
  } catch (error) {
    return { fault: (error as Error).message };
  }
}

const isFault = (value: unknown): value is { fault: string } => typeof value === 'object' && value !== null;
const isNumber = (value: unknown): value is number => typeof value === 'number';
