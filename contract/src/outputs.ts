import type { OutputVerdict } from '@loka/core/verify';

/** A relay that was operated briefly to see which circuit moves with it. */
export interface OutputTrial {
  id: number;
  switchId: number;
  startedAt: number;
  who: string;
  /** How the contact stood before, and is put back. */
  closedBefore: boolean;
  /** When it is put back, UTC ms; null before it has been operated, and once it was. */
  backAt: number | null;
  /** UTC ms; null while it is under way. */
  endedAt: number | null;
  /** Null while it is under way, and when it did not come to its end. */
  result: OutputVerdict | null;
  /** What stands against it; '' with nothing. */
  trouble: string;
}
