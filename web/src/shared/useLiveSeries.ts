import type { Point } from '@loka/contract/points';
import type { LiveReading, Series } from '@loka/contract/readings';
import { holdOf } from '@loka/core/series';
import { useEffect, useMemo, useState } from 'react';
import { onReadings } from '../api/live.js';
import { withLive, type LiveValue } from '../charts/liveTail.js';

/** How often what came in live is taken over by what the store has, so that neither grows without end. */
export const TAKE_OVER = 5 * 60_000;

/**
 * Appends what comes in live to what came from the store, while the period reaches up to now.
 * @param every draws what came in no more often than this, ms; 0 draws each batch
 */
export function useLiveSeries(
  stored: Series[] | undefined,
  shown: readonly Point[],
  end: number,
  every = 0,
): Series[] {
  const [tail, setTail] = useState<Map<number, LiveValue[]>>(new Map());
  const key = shown.map((p) => p.id).join(',');
  // What the store has by now is not kept twice; what came while it was asked stays.
  useEffect(() => {
    const until = new Map((stored ?? []).map((s) => [s.pointId, (s.t.at(-1) ?? -Infinity) + s.step]));
    setTail(
      (before) =>
        new Map(
          [...before].map(([id, list]) => [id, list.filter((r) => r.t > (until.get(id) ?? -Infinity))]),
        ),
    );
  }, [stored]);
  useEffect(() => {
    setTail(new Map());
    const wanted = new Set(key.split(',').map(Number));
    let waiting: LiveReading[] = [];
    const take = () => {
      const news = waiting;
      waiting = [];
      if (news.length === 0) return;
      setTail((before) => {
        const next = new Map(before);
        for (const r of news) next.set(r.pointId, [...(next.get(r.pointId) ?? []), { t: r.t, v: r.v }]);
        return next;
      });
    };
    const stop = onReadings((batch) => {
      for (const r of batch) if (wanted.has(r.pointId) && r.t < end) waiting.push(r);
      if (every === 0) take();
    });
    const timer = every > 0 ? setInterval(take, every) : undefined;
    return () => {
      stop();
      clearInterval(timer);
    };
  }, [key, end, every]);
  return useMemo(
    () =>
      (stored ?? []).map((s) => {
        const interval = shown.find((p) => p.id === s.pointId)?.definition.intervalMs ?? 1000;
        return withLive(s, tail.get(s.pointId) ?? [], holdOf(interval));
      }),
    [stored, tail, shown],
  );
}
