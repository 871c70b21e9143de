import type { PointBasics } from '../points/basics.js';

/** A point that a formula uses, under the name that it has there. */
export interface FormulaInput {
  name: string;
  pointId: number;
}

/** A value computed from other points. */
export interface FormulaDefinition extends PointBasics {
  kind: 'formula';
  formula: string;
  inputs: FormulaInput[];
  /** How often it should be computed; `intervalMs` is longer where an input is read less often. */
  askedMs?: number;
}
