/** Columns of the sheet of a dashboard. */
export const COLUMNS = 12;
/** Rows that it may have. */
export const MOST_ROWS = 200;

/** Where something lies on the sheet, in columns and rows from the top left, each from 0. */
export interface Spot {
  x: number;
  y: number;
  w: number;
  h: number;
}

export interface Placed {
  id: string;
  spot: Spot;
}

export const overlap = (a: Spot, b: Spot): boolean =>
  a.x < b.x + b.w && b.x < a.x + a.w && a.y < b.y + b.h && b.y < a.y + a.h;

const between = (value: number, least: number, most: number): number =>
  Math.min(Math.max(Math.round(value), least), Math.max(least, most));

/** The nearest spot that lies on the sheet and is not smaller than it may be. */
export function onSheet(spot: Spot, least: { w: number; h: number } = { w: 1, h: 1 }): Spot {
  const w = between(spot.w, least.w, COLUMNS);
  const h = between(spot.h, least.h, MOST_ROWS);
  return { w, h, x: between(spot.x, 0, COLUMNS - w), y: between(spot.y, 0, MOST_ROWS - h) };
}

const byPlace = (a: Placed, b: Placed): number => a.spot.y - b.spot.y || a.spot.x - b.spot.x;

/** As far down as needed, and no further. */
function lowered(spot: Spot, taken: readonly Spot[]): Spot {
  let { y } = spot;
  for (;;) {
    const met = taken.filter((t) => overlap(t, { ...spot, y }));
    if (met.length === 0) return { ...spot, y };
    y = Math.max(...met.map((t) => t.y + t.h));
  }
}

/**
 * One element at another spot. What it meets makes room downwards, and what that meets; everything else stays where it
 * is, also where a gap is left: a person may want it.
 * @returns the same elements in the same order
 */
export function moved<T extends Placed>(elements: readonly T[], id: string, to: Spot): T[] {
  const taken: Spot[] = [to];
  const spots = new Map([[id, to]]);
  for (const other of elements.filter((e) => e.id !== id).sort(byPlace)) {
    const spot = lowered(other.spot, taken);
    taken.push(spot);
    spots.set(other.id, spot);
  }
  return elements.map((e) => ({ ...e, spot: spots.get(e.id) as Spot }));
}

/** Everything as far up as it goes, in reading order: without gaps. */
export function closed<T extends Placed>(elements: readonly T[]): T[] {
  const taken: Spot[] = [];
  const spots = new Map<string, Spot>();
  for (const { id, spot } of [...elements].sort(byPlace)) {
    let { y } = spot;
    while (y > 0 && !taken.some((t) => overlap(t, { ...spot, y: y - 1 }))) y--;
    const up = lowered({ ...spot, y }, taken);
    taken.push(up);
    spots.set(id, up);
  }
  return elements.map((e) => ({ ...e, spot: spots.get(e.id) as Spot }));
}

/** The first free spot of a size, by rows and then by columns. */
export function firstFree(taken: readonly Spot[], { w, h }: { w: number; h: number }): Spot {
  for (let y = 0; ; y++)
    for (let x = 0; x + w <= COLUMNS; x++) {
      const spot = { x, y, w, h };
      if (!taken.some((t) => overlap(t, spot))) return spot;
    }
}

/** Rows down to the lowest end of an element. */
export const rowsOf = (elements: readonly Placed[]): number =>
  Math.max(0, ...elements.map(({ spot }) => spot.y + spot.h));

/** "A" for the first row, "AA" after "Z", as the zones of a drawing are lettered. */
export const rowLetter = (row: number): string =>
  row < 26 ? String.fromCharCode(65 + row) : rowLetter(Math.floor(row / 26) - 1) + rowLetter(row % 26);

/** "columns 1–3, rows A–D" */
export const spotInWords = ({ x, y, w, h }: Spot): string =>
  `${w === 1 ? `column ${x + 1}` : `columns ${x + 1}–${x + w}`}, ${h === 1 ? `row ${rowLetter(y)}` : `rows ${rowLetter(y)}–${rowLetter(y + h - 1)}`}`;
