import type { Series } from '@loka/contract/readings';
import { useEffect, useState } from 'react';
import { api } from '../api/client.js';
import { serverNow } from '../api/clock.js';
import { useSum } from '../api/live.js';

interface Reading {
  t: number;
  v: number;
}

/** The sum of points over the last milliseconds: what is recorded of them, then growing live. */
export function useSumTrace(pointIds: readonly number[], lengthMs: number): Reading[] {
  const now = useSum(pointIds);
  const [trace, setTrace] = useState<Reading[]>([]);
  const points = pointIds.join(',');
  useEffect(() => {
    if (points === '') return;
    let wanted = true;
    const to = Math.round(serverNow());
    api<Series[]>(`/readings?points=${points}&from=${to - lengthMs}&to=${to}&width=600`).then(
      (lines) =>
        wanted &&
        setTrace((live) => [...sumOf(lines).filter((r) => r.t < (live[0]?.t ?? Infinity)), ...live]),
      // Without them the trace begins now.
      () => undefined,
    );
    return () => {
      wanted = false;
    };
  }, [points, lengthMs]);
  useEffect(() => {
    if (now === null) return;
    const t = serverNow();
    setTrace((before) => [...before.filter((r) => r.t > t - lengthMs), { t, v: now }]);
  }, [now, lengthMs]);
  return trace;
}

/** Lines that were read together, added up on the instants of the first. */
function sumOf(lines: readonly Series[]): Reading[] {
  const [first] = lines;
  if (!first) return [];
  return first.t.flatMap((t, i) => {
    const values = lines.map((line) => line.mean[i] ?? null);
    return values.includes(null) ? [] : [{ t, v: (values as number[]).reduce((a, b) => a + b, 0) }];
  });
}
