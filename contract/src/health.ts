import type { Dependent } from './dependents.js';
/**
 * Up: all is well. Impaired: Loka does its work, and something has to be looked at. Down: what comes in is kept on disk at
 * best, because the database cannot be reached.
 */
export type HealthState = 'up' | 'impaired' | 'down';

/** Something that is the matter with Loka itself. */
export interface HealthMatter {
  kind:
    | 'database'
    | 'spool'
    | 'memory'
    | 'lost'
    | 'refused'
    | 'events'
    | 'disk'
    | 'disk-unknown'
    | 'clock'
    | 'busy';
  words: string;
}

export interface HealthReport {
  state: HealthState;
  /** What is the matter, one sentence each. */
  matters: HealthMatter[];
  version: string;
  startedAt: number;
  database: { up: boolean; message: string | null };
  links: { id: number; name: string; state: string }[];
  samples: {
    /** Stored in the last ten seconds, per second. */
    perSecond: number;
    stored: number;
    /** Deliveries of what was there already. */
    repeated: number;
    /** Readings whose millisecond was taken, so that they have the next free one. */
    moved: number;
    waiting: number;
    /** Why those that wait are in memory only; null where they are on disk or on their way. */
    unkept: string | null;
  };
  spool: { samples: number; bytes: number; lost: number };
  /** Rows that the database refused and that were put aside, earlier runs included. */
  refused: { rows: number; lastReason: string | null };
  /** Alerts, trips and operations that wait for the database; they are on disk. */
  events: { waiting: number; notOnDisk: number };
  /** Where Loka keeps its own files; null where that cannot be told. */
  disk: { freeBytes: number; totalBytes: number } | null;
  clock: { lastJump: { at: number; by: number } | null };
  /** By how much the server comes late to what is due, of the last minute, ms. */
  loopDelay: { median: number; p99: number; max: number };
}

/** RFC 9457 problem details, with the fields that are at fault. */
export interface ProblemDetails {
  type: string;
  title: string;
  status: number;
  detail: string;
  errors?: { field: string; message: string }[];
  /** What depends on what was to be removed. */
  dependents?: Dependent[];
  /** Of something that somebody else has changed: its version, and what is there now under the names of what was sent. */
  version?: number;
  now?: Record<string, unknown>;
}

export interface AuditEntry {
  id: number;
  at: number;
  who: string;
  action: string;
  subject: string;
  detail: unknown;
  /** Of what was removed, as it was called then; null of other changes. */
  name: string | null;
}
