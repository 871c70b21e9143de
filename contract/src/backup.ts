import type { BackupAnswer, BackupEnd, BackupSource, RecurringPower } from '@loka/core/profile';

/** As many loads as one source is asked about. */
export const MOST_LOADS = 20;

/** Whether a source carries some places, tried on what was recorded. */
export interface PlacesBackup extends Omit<BackupAnswer, 'outages' | 'recurring'> {
  from: number;
  to: number;
  /** What was asked. */
  source: BackupSource;
  /** For how long it has to carry them, ms. */
  lasting: number;
  /** Length of the spans that were gone through, ms. */
  step: number;
  /** In the order of the question; `by` of an outage is an index into it. */
  loads: {
    nodeId: number;
    /** At how far an interval its slowest meter is read, ms: what is shorter is not seen. */
    readEvery: number;
    /** What in it comes at a period: by a timer of its own, it may be. */
    recurring: RecurringPower[];
    /** Of the known time the share in which it gave power. */
    gives: number;
  }[];
  /** An outage that starts at every quarter-hour: when, how long the source carries the loads, and what ends it. */
  outages: { starts: number[]; lasts: number[]; ends: BackupEnd[]; by: (number | null)[] };
}
