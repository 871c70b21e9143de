import { cssVariables, DARK, LIGHT, SERIES, SERIES_DARK, type Sheet } from './tokens.js';

/** Relative luminance of a colour (WCAG 2.2, definition of the term). */
function luminance(colour: string): number {
  const [r, g, b] = [1, 3, 5].map((at) => {
    const c = parseInt(colour.slice(at, at + 2), 16) / 255;
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}
/** Contrast ratio (WCAG 2.2, definition of the term). */
function contrast(a: string, b: string): number {
  const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x) as [number, number];
  return (light + 0.05) / (dark + 0.05);
}
const sheets: [string, Sheet, string[]][] = [
  ['light', LIGHT, SERIES],
  ['dark', DARK, SERIES_DARK],
];

it('the measure itself: black on white is 21, #767676 on white the well-known 4.54', () => {
  expect(contrast('#000000', '#FFFFFF')).toBeCloseTo(21, 10);
  expect(contrast('#767676', '#FFFFFF')).toBeCloseTo(4.54, 2);
});
describe.each(sheets)('the %s sheet', (_name, sheet, series) => {
  // WCAG 2.2, 1.4.3: text needs 4.5 : 1.
  it.each(['ink', 'ink2', 'accent', 'danger', 'warn', 'ok', 'mandatory'] as const)(
    '%s can be read on both grounds, and on what is chosen',
    (token) => {
      for (const ground of [sheet.paper, sheet.sheet, sheet.accentSoft])
        expect(contrast(sheet[token], ground)).toBeGreaterThanOrEqual(4.5);
    },
  );
  it('what is chosen can be read, and so can a button', () => {
    expect(contrast(sheet.ink, sheet.accentSoft)).toBeGreaterThanOrEqual(4.5);
    expect(contrast(sheet.onAccent, sheet.accent)).toBeGreaterThanOrEqual(4.5);
  });
  // 1.4.11: what has to be recognised, lines of a chart and marks of conductors, needs 3 : 1.
  it('lines of a chart stand out from their ground', () => {
    for (const colour of series) expect(contrast(colour, sheet.sheet)).toBeGreaterThanOrEqual(3);
  });
  it('a conductor’s mark stands out by itself or by its outline', () => {
    for (const line of [sheet.l1, sheet.l2, sheet.n]) {
      const by = sheet.outline === 'transparent' ? line : sheet.outline;
      expect(
        Math.max(contrast(line, sheet.sheet), by === line ? 0 : contrast(by, sheet.sheet)),
      ).toBeGreaterThanOrEqual(3);
    }
  });
});
it('as custom properties, by the names under which the styles ask for them', () => {
  expect(cssVariables(LIGHT)).toMatchObject({
    '--paper': '#F4F0E6',
    '--strong-rule': '#BFB7A3',
    '--ink2': '#56606A',
    '--l1': '#7A4A2A',
    '--on-accent': '#FFFFFF',
  });
});
