import { isUsable } from '@loka/core/series';
import type { Deviation } from '@loka/core/calibration';
import { useEffect, useRef, useState } from 'react';
import { onReadings } from '../api/live.js';
import { serverNow } from '../api/clock.js';

const KEPT = 20_000;
/** What is older than this says nothing about now, ms. */
export const OLDEST = 4000;

/**
 * By how much the raw reading of a point is off another point's reading, or off a number, percent, over the last seconds.
 * @param reference id of the other point, or the number in the point's base unit
 */
export function useDeviation(
  pointId: number,
  reference: { pointId: number } | { value: number } | null,
): { recent: Deviation[]; reading: number | null; against: number | null } {
  const [state, setState] = useState<{ recent: Deviation[]; reading: number | null; against: number | null }>(
    {
      recent: [],
      reading: null,
      against: null,
    },
  );
  const other = useRef<{ t: number; v: number } | null>(null);
  const key =
    reference === null ? '' : 'value' in reference ? `v${reference.value}` : `p${reference.pointId}`;
  const said = useRef(reference);
  useEffect(() => {
    said.current = reference;
  });
  useEffect(() => {
    setState({ recent: [], reading: null, against: null });
    other.current = null;
    return onReadings((batch) => {
      const of = said.current;
      for (const r of batch) {
        if (of && 'pointId' in of && r.pointId === of.pointId && r.v !== null && isUsable(r.q))
          other.current = { t: r.t, v: r.v };
        if (r.pointId !== pointId || r.raw === null || !isUsable(r.q)) continue;
        const reading = r.sensed ?? r.raw;
        const against =
          of === null
            ? null
            : 'value' in of
              ? of.value
              : other.current && r.t - other.current.t < OLDEST
                ? other.current.v
                : null;
        setState(({ recent }) => ({
          reading,
          against,
          recent:
            against === null || against === 0
              ? []
              : [...recent, { t: r.t, percent: (100 * (reading - against)) / Math.abs(against) }].filter(
                  (d) => d.t > serverNow() - KEPT,
                ),
        }));
      }
    });
  }, [pointId, key]);
  return state;
}
