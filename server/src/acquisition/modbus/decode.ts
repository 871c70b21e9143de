import { textOf } from '@loka/core/registers';
import { QUALITY } from '@loka/core/series';
import type { RawReading } from '../runner.js';
import type { Poll, RegisterPoint } from './polls.js';

/** The readings that the words of an answer hold. @param at when it was asked for, of the monotonic clock, ms */
export function decode(poll: Poll, words: number[], t: number, at: number): RawReading[] {
  const { ids, reader, texts } = poll;
  const readings: RawReading[] = [];
  for (let i = 0; i < ids.length; i++) {
    const pointId = ids[i] as number;
    if (texts.size > 0 && texts.has(i)) {
      readings.push({ pointId, t, at, raw: null, q: QUALITY.good, text: textIn(poll, i, words) });
      continue;
    }
    const raw = reader.value(i, words);
    if (Number.isFinite(raw))
      readings.push({
        pointId,
        t,
        at,
        raw,
        q: reader.isPossible(i, raw) ? QUALITY.good : QUALITY.implausible,
      });
    else readings.push({ pointId, t, at, raw: null, q: QUALITY.notANumber });
  }
  return readings;
}

function textIn({ request }: Poll, i: number, words: number[]): string {
  const { definition, span } = request.items[i] as RegisterPoint;
  const at = span.start - request.start;
  return textOf(definition, words.slice(at, at + span.count));
}
