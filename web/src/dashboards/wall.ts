/** What a wall shows, as its address says it. */
export interface Wall {
  /** Ids of dashboards, or keys of ready ones, in turn. */
  show: string[];
  /** For how long each, s. */
  every: number;
  /** From which minute of the day to which it is dimmed; null never. */
  dim: [number, number] | null;
}

const EVERY = 20;
const SHORTEST = 5;

/** Minutes after midnight of "22:30"; null where it is no time of day. */
export function minutesOf(text: string): number | null {
  const [, hours, minutes] = /^(\d{1,2}):(\d{2})$/.exec(text) ?? [];
  const [h, m] = [Number(hours), Number(minutes)];
  return hours !== undefined && h < 24 && m < 60 ? 60 * h + m : null;
}

/** The wall of an address like `?show=3,site&every=30&dim=22:00-06:00`. */
export function wallOf(search: URLSearchParams): Wall {
  const show = (search.get('show') ?? '').split(',').filter(Boolean);
  const every = Number(search.get('every') ?? EVERY);
  const [from, to] = (search.get('dim') ?? '').split('-').map(minutesOf);
  return {
    show: show.length > 0 ? show : ['site'],
    every: Number.isFinite(every) ? Math.min(86_400, Math.max(SHORTEST, every)) : EVERY,
    dim: from != null && to != null && from !== to ? [from, to] : null,
  };
}

/** The address of a wall. */
export function addressOf({
  show,
  every,
  dim,
}: {
  show: string[];
  every: number;
  dim: [string, string] | null;
}): string {
  const search = new URLSearchParams({ show: show.join(','), every: String(every) });
  if (dim) search.set('dim', dim.join('-'));
  return `/wall?${search.toString()}`;
}

/** Whether a minute of the day lies in a span that may go over midnight. */
export const isWithin = (minute: number, [from, to]: [number, number]): boolean =>
  from < to ? minute >= from && minute < to : minute >= from || minute < to;
