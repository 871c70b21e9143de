import {
  BatchReader,
  DEFAULT_LIMITS,
  isReadable,
  planReads,
  readSpanOf,
  type PointDefinition,
  type ReadRequest,
  type Span,
} from '@loka/core/registers';
import { isRegister } from '@loka/core/definitions';
import type { KnownPoint } from '../../book/deviceBook.js';

/** A point that is read from registers, with where. */
export type RegisterPoint = KnownPoint & { deviceId: number; definition: PointDefinition; span: Span };

/** One request that is made again and again. */
export interface Poll {
  deviceId: number;
  /** What is asked for, in words; by these its health is kept. */
  words: string;
  unit: number;
  intervalMs: number;
  request: ReadRequest<RegisterPoint>;
  reader: BatchReader;
  ids: Int32Array;
  /** Which of its values are texts. */
  texts: ReadonlySet<number>;
  /** When it is made next, of the monotonic clock. */
  due: number;
  /** Time-outs in a row between which its device has answered other requests. */
  lone: number;
  /** When it was last not answered, of the monotonic clock. */
  lostAt: number | null;
  /** What it is a part of, when the whole was refused. */
  cut: Cut | null;
  /** After this time in which all its parts were answered, ms, it is tried as a whole again. */
  joinAfter: number;
}

/** A request that is made in parts. */
interface Cut {
  whole: Poll;
  /** Since when all its parts have been answered, of the monotonic clock. */
  wellSince: number;
}

const FIRST_JOIN = 60_000;
const LONGEST_JOIN = 86_400_000;

/** The requests of a link: planned from its points, cut where a device refuses, and joined again when that has passed. */
export class Polls {
  private list: readonly Poll[];

  constructor(
    points: readonly KnownPoint[],
    private readonly maxWords: number,
  ) {
    this.list = planPolls(points, maxWords);
  }

  get all(): readonly Poll[] {
    return this.list;
  }

  ofDevice(deviceId: number): Poll[] {
    return this.list.filter((poll) => poll.deviceId === deviceId);
  }

  /**
   * Cuts a request of several values, first at its gaps, then one by one: a device may refuse a joined read because of
   * registers in between that nobody asked for, or because of one value that it does not have.
   * @param now of the monotonic clock
   */
  cut(poll: Poll, now: number): void {
    this.failed(poll, now);
    const { items } = poll.request;
    const tight = planReads(items, mustSpan, { ...limitsOf(this.maxWords), maxGap: 0 });
    const parts = tight.length > 1 ? tight : items.map((item) => ({ ...mustSpan(item), items: [item] }));
    const cut: Cut = { whole: poll, wellSince: now };
    this.list = this.list.flatMap((p) =>
      p === poll
        ? parts.map((request) => ({ ...poll, ...partsOf(request), due: 0, cut, joinAfter: FIRST_JOIN }))
        : [p],
    );
  }

  /** A part was not answered, or was refused: what it is a part of stays cut. */
  failed(poll: Poll, now: number): void {
    for (const cut of cutsOf(poll)) cut.wellSince = now;
  }

  /**
   * A request was answered. Where all parts of a cut one have been for long enough, that is made as a whole again:
   * what was refused for a while, as by a device that has just been switched on, must not cost more requests for ever.
   * Refused again, it is cut again and waits longer.
   * @returns the parts that are made no more
   */
  answered(poll: Poll, now: number): Poll[] {
    if (poll.cut === null) return [];
    const ripe = cutsOf(poll).findLast(
      ({ whole, wellSince }) => now - wellSince >= Math.max(whole.joinAfter, 3 * whole.intervalMs),
    );
    if (!ripe) return [];
    const parts = this.list.filter((p) => cutsOf(p).includes(ripe));
    const { whole } = ripe;
    const joined: Poll = {
      ...whole,
      due: poll.due,
      lone: 0,
      lostAt: null,
      joinAfter: Math.min(LONGEST_JOIN, 4 * whole.joinAfter),
    };
    this.list = [...this.list.filter((p) => !parts.includes(p)), joined];
    return parts;
  }
}

/** The cuts that a request is a part of, the innermost first. */
function cutsOf(poll: Poll): Cut[] {
  const cuts: Cut[] = [];
  for (let { cut } = poll; cut !== null; cut = cut.whole.cut) cuts.push(cut);
  return cuts;
}

const mustSpan = (point: RegisterPoint): Span => point.span;

const limitsOf = (maxWords: number) => ({ ...DEFAULT_LIMITS, maxWords });

const inWords = ({ kind, start, count }: Span): string =>
  count === 1 ? `${kind} ${start}` : `${kind} ${start}–${start + count - 1}`;

/** A point with where it is; none when it is not read from registers, or where they are is not known. */
function registerPoint(point: KnownPoint): RegisterPoint[] {
  const { deviceId, definition } = point;
  if (deviceId === null || !isRegister(definition) || !isReadable(definition)) return [];
  const span = readSpanOf(definition);
  return span ? [{ ...point, deviceId, definition, span }] : [];
}

function planPolls(points: readonly KnownPoint[], maxWords: number): Poll[] {
  const groups = new Map<string, RegisterPoint[]>();
  for (const point of points.flatMap(registerPoint)) {
    const group = `${point.deviceId}/${point.definition.intervalMs}`;
    groups.set(group, [...(groups.get(group) ?? []), point]);
  }
  return [...groups.values()].flatMap((list) => {
    const { deviceId, unit, definition } = list[0] as RegisterPoint;
    return planReads(list, mustSpan, limitsOf(maxWords)).map((request) => ({
      deviceId,
      unit,
      intervalMs: definition.intervalMs,
      ...partsOf(request),
      due: 0,
      lone: 0,
      lostAt: null,
      cut: null,
      joinAfter: FIRST_JOIN,
    }));
  });
}

/** What of a poll follows from its request. */
const partsOf = (request: ReadRequest<RegisterPoint>) => ({
  request,
  words: inWords(request),
  reader: new BatchReader(
    request.items.map((item) => item.definition),
    request.start,
  ),
  ids: Int32Array.from(request.items, (item) => item.id),
  texts: new Set(request.items.flatMap((item, i) => (item.definition.type === 'string' ? [i] : []))),
});
