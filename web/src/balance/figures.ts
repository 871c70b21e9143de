/** How the figures of one picture are printed: all with one prefix, so that they stand below one another. */
export interface FigureForm {
  unit: 'W' | 'Wh';
  kilo: boolean;
}

/** By the size of the whole; kept until it has left its range by a tenth. */
export function formFor(total: number, unit: 'W' | 'Wh', before: FigureForm | null): FigureForm {
  const kilo =
    before !== null && before.unit === unit ? (before.kilo ? total >= 900 : total >= 1100) : total >= 1000;
  return { unit, kilo };
}

export const unitText = ({ unit, kilo }: FigureForm): string => (kilo ? `k${unit}` : unit);

/** Digits of a figure; a typographic minus, two decimals of kilo. */
export function figure(value: number, { kilo }: FigureForm): string {
  const text = kilo ? (value / 1000).toFixed(2) : value.toFixed(Math.abs(value) < 10 ? 1 : 0);
  return Number(text) === 0 ? text.replace('-', '') : text.replace('-', '−');
}

/** A share of a whole, as per cent; less than half of one is said to be so. */
export function share(value: number, total: number): string {
  if (!(total > 0)) return '–';
  const percent = (100 * value) / total;
  return percent > 0 && percent < 0.5 ? '< 1 %' : `${Math.round(percent)} %`.replace('-', '−');
}

/** "+5 %" of a figure beside that of another period, and in words where that would say nothing. */
export function change(value: number, before: number | null): string {
  if (before === null) return 'not known';
  if (before < 5) return value < 5 ? '–' : 'new';
  const percent = Math.round((value / before - 1) * 100);
  return percent === 0 ? '±0 %' : `${percent > 0 ? '+' : '−'}${Math.abs(percent)} %`;
}
