import {
  isSunspecMarker,
  sunspecCommon,
  sunspecMeter,
  sunspecPoints,
  SUNSPEC_BASES,
  SUNSPEC_END,
  type PointDefinition,
  type Span,
  type SunspecBlock,
} from '@loka/core/registers';

/** What a device that speaks SunSpec tells of itself. */
export interface SunspecDevice {
  maker: string;
  model: string;
  version: string;
  serial: string;
  /** The first meter model of its chain, or null when it is no meter. */
  meter: { model: number; words: string; points: PointDefinition[] } | null;
}

/** A chain longer than this is no chain. */
const MOST_BLOCKS = 40;
const ONE_REQUEST = 120;

/** Reads a span of a unit; rejects when it does not answer, or refuses. */
export type ReadSpan = (span: Span) => Promise<number[]>;
/** Whether a rejected read was an answer anyway: the register is not there. */
export type IsRefusal = (error: unknown) => boolean;

/** Walks the chain of models of a device; null where there is no marker. @throws what reading throws */
export async function walkSunspec(read: ReadSpan, isRefusal: IsRefusal): Promise<SunspecDevice | null> {
  for (const base of SUNSPEC_BASES) {
    const marker = await orNull(read({ kind: 'holding', start: base, count: 2 }), isRefusal);
    if (marker && isSunspecMarker(marker)) return describe(read, await chain(read, isRefusal, base + 2));
  }
  return null;
}

async function orNull<T>(reading: Promise<T>, isRefusal: IsRefusal): Promise<T | null> {
  try {
    return await reading;
  } catch (error) {
    if (isRefusal(error)) return null;
    throw error;
  }
}

/** The models from `first` on. A device that refuses what lies behind its last one has no end marker, and is done. */
async function chain(read: ReadSpan, isRefusal: IsRefusal, first: number): Promise<SunspecBlock[]> {
  const blocks: SunspecBlock[] = [];
  for (let at = first; blocks.length < MOST_BLOCKS && at < 65_534;) {
    const head = await orNull(read({ kind: 'holding', start: at, count: 2 }), isRefusal);
    const [model, length] = head ?? [SUNSPEC_END, 0];
    if (model === undefined || length === undefined || model === SUNSPEC_END || length === 0) break;
    blocks.push({ model, start: at + 2, length });
    at += 2 + length;
  }
  return blocks;
}

async function describe(read: ReadSpan, blocks: SunspecBlock[]): Promise<SunspecDevice> {
  const common = blocks.find((b) => b.model === 1);
  const names = common ? sunspecCommon(await block(read, common)) : null;
  const meter = blocks.find((b) => sunspecMeter(b.model) !== null);
  return {
    maker: names?.maker ?? '',
    model: names?.model ?? '',
    version: names?.version ?? '',
    serial: names?.serial ?? '',
    meter: meter
      ? {
          model: meter.model,
          words: sunspecMeter(meter.model) as string,
          points: sunspecPoints(meter, await block(read, meter)),
        }
      : null,
  };
}

async function block(read: ReadSpan, { start, length }: SunspecBlock): Promise<number[]> {
  const words: number[] = [];
  for (let at = 0; at < length; at += ONE_REQUEST)
    words.push(
      ...(await read({ kind: 'holding', start: start + at, count: Math.min(ONE_REQUEST, length - at) })),
    );
  return words;
}
