/** What depends on readings or contacts of a device. */
export const DEPENDENT_KINDS = ['switch', 'cut-off', 'alert', 'virtual meter'] as const;
export type DependentKind = (typeof DEPENDENT_KINDS)[number];

/** Something that would no longer work without a value. */
export interface Dependent {
  kind: DependentKind;
  id: number;
  name: string;
  /** What it is for, in words, where its name does not say it. */
  does: string;
}
