import { isUsable } from '@loka/core/series';
import { useEffect, useState } from 'react';
import { onReadings } from '../api/live.js';
import { serverNow } from '../api/clock.js';

/** The readings of a point, raw but for its transducer, over the last milliseconds, growing live. */
export function useRawTrace(pointId: number, lengthMs: number): { t: number; v: number }[] {
  const [trace, setTrace] = useState<{ t: number; v: number }[]>([]);
  useEffect(() => {
    setTrace([]);
    return onReadings((batch) => {
      const news = batch
        .filter((r) => r.pointId === pointId && r.raw !== null && isUsable(r.q))
        .map((r) => ({ t: r.t, v: r.sensed ?? (r.raw as number) }));
      if (news.length > 0)
        setTrace((before) => [...before, ...news].filter((r) => r.t > serverNow() - lengthMs));
    });
  }, [pointId, lengthMs]);
  return trace;
}
