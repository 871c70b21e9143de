/** How a number is typed: in which unit, and how many of its own units that is. */
export interface HowTyped {
  label: string;
  unit: string;
  scale: number;
}

/** A value as it is typed: no more digits than it has. */
export const typed = (value: number, { scale }: Pick<HowTyped, 'scale'>): string =>
  String(Number((value / scale).toPrecision(6)));
