/** The present reading of a point, as the live stream sends it. */
export interface LiveReading {
  pointId: number;
  /** When it was read, UTC ms. */
  t: number;
  raw: number | null;
  /** The raw value behind its transducer, where that changes it: what a calibration starts from. */
  sensed?: number | null;
  /** Corrected, base unit. */
  v: number | null;
  q: number;
  /** Where the nominal voltage stands in for a measured one: the range it lies in, base unit. */
  between?: [low: number, high: number];
  /** What a point of type string reads; it is shown and not recorded. */
  text?: string;
}

/** What the live stream says besides readings: these lists have changed, ask again. */
export type ChangedTopic =
  | 'site'
  | 'installation'
  | 'links'
  | 'devices'
  | 'register-maps'
  | 'calibrations'
  | 'alerts'
  | 'alert-rules'
  | 'switches'
  | 'cut-off-rules'
  | 'jobs'
  | 'history'
  | 'doubts'
  | 'virtual-meters'
  | 'searches'
  | 'settings'
  | 'fittings'
  | 'instruments'
  | 'outputs'
  | 'verifications'
  | 'comments'
  | 'totals'
  | 'fast-looks'
  | 'dashboards'
  | 'plans'
  | 'pictures'
  | 'reports';

/** A point's line over a period, from the level that fits the width. Gaps are nulls. */
export interface Series {
  pointId: number;
  /** Spacing of the values, ms; 0 for single readings. */
  step: number;
  t: number[];
  mean: (number | null)[];
  min: (number | null)[];
  max: (number | null)[];
  /** Readings behind each value; 0 in a gap. */
  count: number[];
  /** Milliseconds of the step for which the value is known; 0 for single readings. */
  covered: number[];
}

/** Long work: a share done of it, and how it ended. */
export interface Job {
  id: string;
  title: string;
  /** 0–1 */
  progress: number;
  state: 'running' | 'done' | 'cancelled' | 'failed';
  message: string | null;
}
