/** A measured number ready to print: digits and unit apart, so that the unit can be set lighter. */
export interface PrintedNumber {
  digits: string;
  unit: string;
  /** The prefix that was used; hand it back next time to keep it stable while the value wanders. */
  prefix: Prefix;
}

export type Prefix = '' | 'm' | 'k' | 'M' | 'G';

const SCALE: Record<Prefix, number> = { m: 1e-3, '': 1, k: 1e3, M: 1e6, G: 1e9 };
/** Units that are printed without a prefix. */
const PLAIN = new Set(['', '%', 'Hz', '°C', 'V']);
const MINUS = '−';

/**
 * Prints a value in base units with three or four significant digits and a unit prefix. With the prefix of
 * the last time given, it changes only when the value has left that prefix's range by a tenth, so that a
 * value near 1000 W does not flicker between W and kW.
 * @param decimals as many digits after the point, instead of what the size asks for
 */
export function printNumber(value: number, unit: string, before?: Prefix, decimals?: number): PrintedNumber {
  const prefix = PLAIN.has(unit) ? '' : choosePrefix(Math.abs(value), unit, before);
  const scaled = value / SCALE[prefix];
  // A million grams are a tonne to everybody.
  const name = unit === 'g' && prefix === 'M' ? 't' : prefix + unit;
  return { digits: digitsOf(scaled, unit, prefix, decimals), unit: name, prefix };
}

/** As {@link printNumber}, in one text: "13.89 kW", "0.98". */
export function printInUnit(value: number, unit: string): string {
  const { digits, unit: printed } = printNumber(value, unit);
  return `${digits} ${printed}`.trim();
}

/**
 * A value that somebody has set, such as a limit: with the digits it was set with, so that 0.0001 A is not read as none.
 * "16 A", "207 V", "1.5 kW"
 * @param value base unit
 */
export function printSet(value: number, unit: string): string {
  const prefix = PLAIN.has(unit) ? '' : choosePrefix(Math.abs(value), unit, undefined);
  // Binary fractions do not show: 0.1 + 0.2 is 0.3.
  const digits = new Intl.NumberFormat('en', { maximumSignificantDigits: 12, useGrouping: false })
    .format(value / SCALE[prefix])
    .replace('-', MINUS);
  return `${digits} ${prefix}${unit}`.trim();
}

/**
 * A reading beside the limit that it has passed: with as many digits, four at least, as tell the two apart, so that nobody
 * reads "16 A was above 16 A".
 * @param value @param limit base unit
 */
export function printBeside(value: number, limit: number, unit: string): string {
  const told = [4, 5, 6, 7, 8, 9].map((digits) => Number(value.toPrecision(digits)));
  return printSet(told.find((v) => v !== limit) ?? value, unit);
}

function choosePrefix(size: number, unit: string, before: Prefix | undefined): Prefix {
  if (unit === 'A') return '';
  if (before !== undefined && before !== 'm' && size >= SCALE[before] * 0.9 && size < SCALE[before] * 1100)
    return before;
  if (before === '' && size < 1100) return '';
  if (size >= 1e9) return 'G';
  if (size >= 1e6) return 'M';
  return size >= 1e3 ? 'k' : '';
}

function digitsOf(value: number, unit: string, prefix: Prefix, wanted: number | undefined): string {
  const size = Math.abs(value);
  const decimals =
    wanted ??
    (unit === 'Hz'
      ? 2
      : unit === ''
        ? 3
        : unit === 'V' || unit === '°C'
          ? 1
          : decimalsFor(size, unit, prefix));
  const text = value.toFixed(decimals);
  return Number(text) === 0 ? (0).toFixed(decimals) : text.replace('-', MINUS);
}

function decimalsFor(size: number, unit: string, prefix: Prefix): number {
  if (prefix === '' && unit !== 'A' && unit !== '%') return size < 10 ? 1 : 0;
  if (size < 10) return unit === 'A' ? 3 : 2;
  return size < 100 ? 2 : 1;
}

/**
 * The reading of an energy counter as meters print it: "23 204.5 kWh".
 * @param wattHours base unit; @param step its smallest change, Wh: so many digits stand on its face
 */
export function printCounter(wattHours: number, step = 100): string {
  const digits = step > 0 ? Math.min(6, Math.max(0, Math.ceil(-Math.log10(step / 1000) - 1e-9))) : 3;
  const [whole = '', part] = (Math.abs(wattHours) / 1000).toFixed(digits).split('.');
  const grouped = whole.replace(/\B(?=(\d{3})+$)/g, '\u202f');
  return `${wattHours < 0 ? MINUS : ''}${grouped}${part ? `.${part}` : ''}\u00a0kWh`;
}

/** A ratio 0–1 as whole percent. */
export const printPercent = (ratio: number): string => `${Math.round(ratio * 100)} %`;

/** A percent error with its sign, two decimals: "+0.31 %". */
export function printError(percent: number): string {
  const text = Math.abs(percent).toFixed(2);
  const sign = Number(text) === 0 ? '' : percent > 0 ? '+' : MINUS;
  return `${sign}${text} %`;
}

/** How long ago, in words for a screen: "3 s", "6 min", "2 h", "4 d". @param ms not negative */
export function printAge(ms: number): string {
  const s = Math.max(0, Math.round(ms / 1000));
  if (s < 120) return `${s} s`;
  if (s < 7200) return `${Math.round(s / 60)} min`;
  if (s < 172_800) return `${Math.round(s / 3600)} h`;
  return `${Math.round(s / 86_400)} d`;
}
