import type { Scale } from '../../shared/usualScale.js';

/** How far along a scale a value stands, from 0 to 1; beyond its ends it stays at them. */
export const shareOf = ({ low, high }: Scale, v: number): number =>
  Math.min(1, Math.max(0, (v - low) / (high - low)));

/** Whether a value lies outside of its band; what is not known does not. */
export const isOutside = ({ from, to }: Scale, value: number | null): boolean =>
  value !== null && (value < from || value > to);

/** Whether the figures of a scale are written in thousands, so that they stay short. */
export const isKilo = ({ low, high }: Scale): boolean => Math.max(Math.abs(low), Math.abs(high)) >= 10_000;

/** A figure at a scale, in the size in which the whole of it is written. */
export const figureAt = (scale: Scale, v: number): string =>
  String(Number((isKilo(scale) ? v / 1000 : v).toPrecision(4))).replace('-', '−');

/** What an instrument says to those who cannot see it. */
export const instrumentInWords = (label: string, scale: Scale, value: number | null): string =>
  `${label}: ${value === null ? 'not known' : isOutside(scale, value) ? 'outside its band' : 'in band'}`;
