/** What happened to what measures a place; a transducer that is only described changes no reading. */
export const FITTING_KINDS = [
  'device',
  'described',
  'transducer',
  'setting',
  'rewired',
  'put-right',
] as const;
export type FittingKind = (typeof FITTING_KINDS)[number];

/** One line of the history of what was fitted when. */
export interface Fitting {
  id: number;
  nodeId: number;
  /** From when on it was so, UTC ms; which may be before it was entered. */
  at: number;
  enteredAt: number;
  who: string;
  kind: FittingKind;
  /** In words. */
  says: string;
}
