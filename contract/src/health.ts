export interface HealthReport {
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
  };
  spool: { samples: number; bytes: number; lost: number };
  /** Rows that the database refused and that were put aside, earlier runs included. */
  refused: { rows: number; lastReason: string | null };
}

/** RFC 9457 problem details, with the fields that are at fault. */
export interface ProblemDetails {
  type: string;
  title: string;
  status: number;
  detail: string;
  errors?: { field: string; message: string }[];
}

export interface AuditEntry {
  id: number;
  at: number;
  who: string;
  action: string;
  subject: string;
  detail: unknown;
}
