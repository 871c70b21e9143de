/** What happens at a place, besides its readings. */
export const HAPPENINGS = ['alert', 'switched', 'correction', 'gap', 'fitting', 'comment'] as const;
export type HappeningKind = (typeof HAPPENINGS)[number];

/** Something that happened at a place; over a while, or at an instant. */
export interface Happening {
  kind: HappeningKind;
  /** UTC ms. */
  t: number;
  /** Null where it lasts, or is of an instant. */
  until: number | null;
  says: string;
  /** By whom; null where nobody did it. */
  who: string | null;
  /** Danger for what went wrong, warn for what is to be looked at. */
  level: 'danger' | 'warn' | 'plain';
  /** Of a comment: what it is changed by. */
  commentId: number | null;
}
