import type { RecordErrors } from '@loka/contract/record';

const [WIDTH, HEIGHT] = [500, 130];
const [LEFT, RIGHT, TOP, BOTTOM] = [38, 8, 8, 24];
const INK = '#1d2b36';
const FAINT = '#b9c2c9';

/** Error against load on a logarithmic axis, as SVG: as found hollow, as left filled with its uncertainty. Null with nothing to draw. */
export function errorsDrawing({ points, unit, rated }: RecordErrors): string | null {
  const known = points.filter((p) => p.load !== 0 && (p.asFound !== null || p.asLeft !== null));
  if (known.length === 0) return null;
  const loads = known.map((p) => Math.abs(p.load));
  const [from, to] = [Math.min(...loads) / 1.5, Math.max(...loads, rated ?? 0) * 1.2];
  const most = Math.max(
    0.5,
    ...known.flatMap((p) => [Math.abs(p.asFound ?? 0), Math.abs(p.asLeft ?? 0) + (p.uncertainty ?? 0)]),
  );
  const x = (load: number) =>
    LEFT + ((WIDTH - LEFT - RIGHT) * Math.log(Math.abs(load) / from)) / Math.log(to / from);
  const y = (percent: number) => TOP + ((HEIGHT - TOP - BOTTOM) * (1 - percent / (most * 1.15))) / 2;
  const text = (tx: number, ty: number, words: string, anchor: string) =>
    `<text x="${tx.toFixed(1)}" y="${ty.toFixed(1)}" font-size="7" fill="${INK}" text-anchor="${anchor}">${words}</text>`;
  const line = (x1: number, y1: number, x2: number, y2: number, colour: string) =>
    `<line x1="${x1.toFixed(1)}" y1="${y1.toFixed(1)}" x2="${x2.toFixed(1)}" y2="${y2.toFixed(1)}" stroke="${colour}" stroke-width="0.6"/>`;
  const step = niceStep(most);
  const levels = [-2, -1, 0, 1, 2].map((k) => k * step).filter((p) => Math.abs(p) <= most * 1.15);
  const decades = decadesBetween(from, to);
  const marks = known.flatMap((p) => {
    const px = x(p.load);
    const found =
      p.asFound === null
        ? ''
        : `<circle cx="${px.toFixed(1)}" cy="${y(p.asFound).toFixed(1)}" r="2.6" fill="white" stroke="${INK}" stroke-width="0.9"/>`;
    if (p.asLeft === null) return [found];
    const u = p.uncertainty ?? 0;
    return [
      found,
      line(px, y(p.asLeft - u), px, y(p.asLeft + u), INK),
      `<circle cx="${px.toFixed(1)}" cy="${y(p.asLeft).toFixed(1)}" r="2.6" fill="${INK}"/>`,
    ];
  });
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}" height="${HEIGHT}" viewBox="0 0 ${WIDTH} ${HEIGHT}">`,
    ...levels.flatMap((p) => [
      line(LEFT, y(p), WIDTH - RIGHT, y(p), p === 0 ? INK : FAINT),
      text(LEFT - 4, y(p) + 2.5, `${p > 0 ? '+' : p < 0 ? '−' : ''}${Math.abs(p)} %`, 'end'),
    ]),
    ...decades.flatMap((load) => [
      line(x(load), TOP, x(load), HEIGHT - BOTTOM, FAINT),
      text(x(load), HEIGHT - BOTTOM + 9, `${load} ${unit}`, 'middle'),
    ]),
    ...marks,
    text(LEFT, HEIGHT - 3, 'hollow: as found; filled: as left, with its uncertainty', 'start'),
    '</svg>',
  ].join('');
}

/** 1, 2 or 5 times a power of ten, half of the most or less. */
function niceStep(most: number): number {
  const power = 10 ** Math.floor(Math.log10(most));
  const steps = [0.5, 1, 2, 5].map((k) => k * power).filter((s) => s <= most);
  return Number(((steps.at(-1) ?? power / 2) / (most / (steps.at(-1) ?? 1) >= 1.5 ? 1 : 2)).toPrecision(3));
}

/** 1, 2 and 5 of every power of ten in a range; of wide ranges the powers alone. */
function decadesBetween(from: number, to: number): number[] {
  const steps = to / from > 200 ? [1] : [1, 2, 5];
  const marks: number[] = [];
  for (let k = Math.floor(Math.log10(from)); 10 ** k <= to; k++)
    for (const s of steps) {
      const load = Number((s * 10 ** k).toPrecision(3));
      if (load >= from && load <= to) marks.push(load);
    }
  return marks;
}
