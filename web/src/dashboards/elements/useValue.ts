import type { Point } from '@loka/contract/points';
import { isFresh, isUsable } from '@loka/core/series';
import { useMemo } from 'react';
import { useNow } from '../../api/clock.js';
import { useReadings } from '../../api/live.js';
import { useFacts } from '../facts.js';
import type { Shown } from '../shown.js';

/** A live number, and how old the oldest of what it is made of is. */
export interface LiveNumber {
  /** Null where a part of it is missing, or bad. */
  value: number | null;
  /** Age of its oldest part, and how often that is asked, ms; null before any came. */
  age: number | null;
  interval: number;
  /** Whether a part is older than two intervals. */
  old: boolean;
  /** What it is made of. */
  points: Point[];
}

/** What is shown as a number that lives. */
export function useValue(shown: Shown): LiveNumber {
  const { points } = useFacts();
  const ids = useMemo(() => shown.groups.flat(), [shown]);
  const own = useMemo(() => ids.flatMap((id) => points.find((p) => p.id === id) ?? []), [ids, points]);
  const readings = useReadings(ids);
  const now = useNow(1000);
  let sum: number | null = ids.length === 0 ? null : 0;
  let age: number | null = null;
  let interval = 1000;
  let old = false;
  readings.forEach((reading, i) => {
    const every = own.find((p) => p.id === ids[i])?.definition.intervalMs ?? 1000;
    if (!reading || reading.v === null || !isUsable(reading.q)) {
      sum = null;
      return;
    }
    if (sum !== null) sum += reading.v;
    if (age === null || now - reading.t > age) {
      age = Math.max(0, now - reading.t);
      interval = every;
    }
    if (!isFresh(reading.t, now, every)) old = true;
  });
  return { value: sum, age, interval, old, points: own };
}
