import type { TrialRead } from '@loka/contract/acquisition';
import { spanOf, type PointDefinition } from '@loka/core/registers';
import { useEffect, useRef, useState } from 'react';
import { api, inWords } from '../api/client.js';

const EVERY = 1500;

/** What is on the wire now for the rows being edited, read again and again from a device. */
export function useTrialRead(
  target: { linkId: number; unit: number } | null,
  rows: readonly PointDefinition[],
): { reads: Map<string, TrialRead>; failed: string | null } {
  const [reads, setReads] = useState<Map<string, TrialRead>>(new Map());
  const [failed, setFailed] = useState<string | null>(null);
  const latest = useRef(rows);
  useEffect(() => {
    latest.current = rows;
  }, [rows]);
  const linkId = target?.linkId;
  const unit = target?.unit;
  useEffect(() => {
    if (linkId === undefined || unit === undefined) return;
    let stopped = false;
    let timer: ReturnType<typeof setTimeout>;
    const read = async () => {
      const points = latest.current.filter((row) => row.access !== 'write' && spanOf(row) !== null);
      try {
        const result =
          points.length === 0
            ? []
            : await api<TrialRead[]>('/devices/trial-read', 'POST', { linkId, unit, points });
        if (stopped) return;
        setReads(new Map(result.map((r) => [r.key, r])));
        setFailed(null);
      } catch (error) {
        if (!stopped) setFailed(inWords(error));
      }
      if (!stopped) timer = setTimeout(() => void read(), EVERY);
    };
    void read();
    return () => {
      stopped = true;
      clearTimeout(timer);
    };
  }, [linkId, unit]);
  return { reads, failed };
}
