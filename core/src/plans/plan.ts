/** Cells of the grid that a plan may have each way. */
export const MOST_CELLS = 60;
export const LEAST_CELLS = 4;
export const MOST_ROOMS = 60;
export const MOST_MARKS = 300;

/** A room as a rectangle on the grid, in whole cells from the top left. */
export interface Room {
  id: string;
  name: string;
  x: number;
  y: number;
  w: number;
  h: number;
  /** Outdoors, or without walls: a yard, a gallery. */
  open: boolean;
}

/** What can be put on a plan: a circuit, load or board; a device; an outlet, a lamp, whatever hangs on a circuit. */
export const MARK_KINDS = ['place', 'device', 'outlet'] as const;
export type MarkKind = (typeof MARK_KINDS)[number];

/** Something at its place in the building. */
export interface Mark {
  id: string;
  kind: MarkKind;
  /** The place of the installation, the device, or the circuit that the outlet hangs on. */
  ref: number;
  /** Of an outlet; the others are called what they are called. */
  name: string;
  /** What the electrician found there, as "behind the fridge, junction box to the left". */
  note: string;
  /** Its middle, in half cells. */
  x: number;
  y: number;
}

/** An uploaded picture that lies under a plan, as large as its grid. */
export interface Backdrop {
  /** The picture. */
  id: number;
  /** How strong it shows, from 0 (not at all) to 1. */
  strength: number;
  /** Dark lines on white: on the dark sheet it is turned over. */
  drawing: boolean;
}

/** A floor as an outline on a grid, with what is where. */
export interface PlanContent {
  columns: number;
  rows: number;
  rooms: Room[];
  marks: Mark[];
  picture?: Backdrop | null;
}

export const EMPTY_PLAN: PlanContent = { columns: 20, rows: 14, rooms: [], marks: [] };

const between = (v: number, least: number, most: number) =>
  Math.min(Math.max(v, least), Math.max(least, most));

/** The nearest rectangle of whole cells on the grid, at least one cell large. */
export function onGrid<T extends Pick<Room, 'x' | 'y' | 'w' | 'h'>>(
  room: T,
  { columns, rows }: PlanContent,
): T {
  const w = between(Math.round(room.w), 1, columns);
  const h = between(Math.round(room.h), 1, rows);
  return {
    ...room,
    w,
    h,
    x: between(Math.round(room.x), 0, columns - w),
    y: between(Math.round(room.y), 0, rows - h),
  };
}

/** The nearest half cell on the grid. */
export function onHalves<T extends Pick<Mark, 'x' | 'y'>>(mark: T, { columns, rows }: PlanContent): T {
  const half = (v: number, most: number) => between(Math.round(2 * v) / 2, 0, most);
  return { ...mark, x: half(mark.x, columns), y: half(mark.y, rows) };
}

/** The rectangle between two corners of cells, as it is drawn from one to the other. */
export function drawnRoom(
  a: { x: number; y: number },
  b: { x: number; y: number },
): Pick<Room, 'x' | 'y' | 'w' | 'h'> {
  const [x, y] = [Math.min(a.x, b.x), Math.min(a.y, b.y)];
  return { x, y, w: Math.abs(a.x - b.x) + 1, h: Math.abs(a.y - b.y) + 1 };
}

/** In which room a mark lies: the smallest of those that hold it; null outside of all. */
export function roomOf({ x, y }: Pick<Mark, 'x' | 'y'>, rooms: readonly Room[]): Room | null {
  const around = rooms.filter((r) => x >= r.x && x <= r.x + r.w && y >= r.y && y <= r.y + r.h);
  return around.sort((a, b) => a.w * a.h - b.w * b.h)[0] ?? null;
}

/** Cells of the longer side of a picture’s grid: so many that a mark stands where it is, to half a cell. */
const ALONG = { least: 24, most: 48 };

/**
 * The grid of square cells whose shape is nearest to that of a picture.
 * @param width, height of the picture, in any unit
 */
export function gridFor(width: number, height: number): Pick<PlanContent, 'columns' | 'rows'> {
  const shape = Math.max(width, height) / Math.min(width, height);
  let best = { long: ALONG.least, short: ALONG.least, off: Infinity };
  for (let long = ALONG.least; long <= ALONG.most; long++) {
    const short = between(Math.round(long / shape), LEAST_CELLS, MOST_CELLS);
    const off = Math.abs(Math.log(long / short / shape));
    if (off < best.off - 1e-9) best = { long, short, off };
  }
  return width >= height
    ? { columns: best.long, rows: best.short }
    : { columns: best.short, rows: best.long };
}

/** Everything on the grid, each id once. */
export function tidiedPlan(plan: PlanContent): PlanContent {
  const grid = {
    ...plan,
    columns: between(Math.round(plan.columns), LEAST_CELLS, MOST_CELLS),
    rows: between(Math.round(plan.rows), LEAST_CELLS, MOST_CELLS),
  };
  const seen = new Set<string>();
  const first = ({ id }: { id: string }) => !seen.has(id) && seen.add(id);
  return {
    columns: grid.columns,
    rows: grid.rows,
    rooms: plan.rooms.filter(first).map((r) => onGrid(r, grid)),
    marks: plan.marks.filter(first).map((m) => onHalves(m, grid)),
    picture: plan.picture ? { ...plan.picture, strength: between(plan.picture.strength, 0, 1) } : null,
  };
}

/** How a load stands to what its protective device lets through, as it is coloured. */
export type LoadLevel = 'unknown' | 'idle' | 'light' | 'busy' | 'heavy' | 'over';

/**
 * Level of a load by its share of the rating. Above 80 % of a protective device's rating for long is more than it is meant
 * to carry for long (common practice in the trade); above 100 % it will open.
 * @param share of the rating; null where one of them is not known
 */
export const loadLevel = (share: number | null): LoadLevel =>
  share === null
    ? 'unknown'
    : share < 0.01
      ? 'idle'
      : share <= 0.5
        ? 'light'
        : share <= 0.8
          ? 'busy'
          : share <= 1
            ? 'heavy'
            : 'over';
