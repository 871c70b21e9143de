import { isFormula } from '@loka/core/definitions';
import { parseFormula, type Expression, type FormulaDefinition } from '@loka/core/virtual';
import type { KnownPoint } from '../book/deviceBook.js';

/** A virtual point, ready to be computed. */
export interface Computed {
  id: number;
  definition: FormulaDefinition;
  expression: Expression;
}

/** The virtual points in an order in which each comes after what it is computed from. */
export function inOrder(points: readonly KnownPoint[]): Computed[] {
  const left = points.flatMap(({ id, definition }) =>
    isFormula(definition) ? [{ id, definition, expression: parseFormula(definition.formula) }] : [],
  );
  const virtual = new Set(left.map((c) => c.id));
  const done = new Set<number>();
  const order: Computed[] = [];
  // What cannot be ordered would be a cycle, and those are refused before they are saved.
  for (let before = -1; before !== order.length;) {
    before = order.length;
    for (const computed of left) {
      const ready = computed.definition.inputs.every((i) => !virtual.has(i.pointId) || done.has(i.pointId));
      if (done.has(computed.id) || !ready) continue;
      done.add(computed.id);
      order.push(computed);
    }
  }
  return order;
}

/** The virtual points that depend on any of some points, directly or not, in the order in which to compute them. */
export function dependents(order: readonly Computed[], pointIds: readonly number[]): Computed[] {
  const touched = new Set(pointIds);
  return order.filter(({ id, definition }) => {
    const depends = definition.inputs.some((i) => touched.has(i.pointId));
    if (depends) touched.add(id);
    return depends;
  });
}
