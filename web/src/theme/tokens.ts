/** Loka's colours and sizes, all of them, for both sheets. Everything else refers to these by name. */
export interface Sheet {
  paper: string;
  sheet: string;
  ink: string;
  ink2: string;
  ink3: string;
  rule: string;
  strongRule: string;
  accent: string;
  accentSoft: string;
  onAccent: string;
  danger: string;
  warn: string;
  ok: string;
  mandatory: string;
  l1: string;
  l2: string;
  l3: string;
  n: string;
  /** Outline of a conductor mark that would vanish on the ground. */
  outline: string;
}

export const LIGHT: Sheet = {
  paper: '#F4F0E6',
  sheet: '#FBF8F1',
  ink: '#1B242D',
  ink2: '#56606A',
  ink3: '#8A8F92',
  rule: '#DAD3C2',
  strongRule: '#BFB7A3',
  accent: '#0B5D6B',
  accentSoft: '#DCE8E6',
  onAccent: '#FFFFFF',
  danger: '#AE2A1E',
  // A shade darker than the design's: text needs 4.5 : 1 (WCAG 2.2, 1.4.3), also on what is chosen.
  warn: '#945600',
  ok: '#287144',
  mandatory: '#1E5AA8',
  l1: '#7A4A2A',
  l2: '#191919',
  l3: '#8E9296',
  n: '#2B6CB0',
  outline: 'transparent',
};

export const DARK: Sheet = {
  paper: '#171B1F',
  sheet: '#1E2328',
  ink: '#ECE7DB',
  ink2: '#A9B0B5',
  ink3: '#7C8388',
  rule: '#343B41',
  strongRule: '#505960',
  accent: '#5FB7C4',
  accentSoft: '#23393D',
  onAccent: '#10181A',
  danger: '#F0857A',
  warn: '#E3A64A',
  ok: '#74C294',
  mandatory: '#86B2EE',
  l1: '#B07B52',
  l2: '#0E0E0E',
  l3: '#9BA0A4',
  n: '#5B9BE0',
  outline: '#A9B0B5',
};

/** One palette for lines in charts, legible to the colour-blind, in this order. */
export const SERIES = [
  '#0B5D6B',
  '#B4571F',
  '#6A4C93',
  '#3F7D20',
  '#8A1C4A',
  '#3A6EA5',
  '#7A6A00',
  '#444B52',
];
export const SERIES_DARK = [
  '#5FB7C4',
  '#E59A5F',
  '#B79BE0',
  '#93CF6F',
  '#E587AE',
  '#8FBDEB',
  '#D3C45A',
  '#C4CACF',
];

const kebab = (name: string): string =>
  name.replace(/[A-Z0-9]/g, (c) => (/\d/.test(c) ? c : `-${c.toLowerCase()}`));

/** A sheet as CSS custom properties: --paper, --strong-rule … */
export const cssVariables = (sheet: Sheet): Record<string, string> =>
  Object.fromEntries(Object.entries(sheet).map(([name, value]) => [`--${kebab(name)}`, value]));
