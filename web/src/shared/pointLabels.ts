import type { Point } from '@loka/contract/points';
import { QUANTITIES } from '@loka/core/quantities';
import { pointTitle } from './nodes.js';

/** "Voltage L1": what a point measures, or its own name where its quantity says nothing. */
function quantityLabel({ definition, phase }: Point): string {
  if (definition.quantity === 'other') return definition.name;
  const { label } = QUANTITIES[definition.quantity];
  return phase && phase !== 'total' ? `${label} ${phase}` : label;
}

/** The point's own name; with its device where that is just what it measures. */
const ownName = (point: Point): string =>
  point.definition.name === QUANTITIES[point.definition.quantity].label
    ? pointTitle(point)
    : point.definition.name;

/**
 * What to call each of the points that stand together: by quantity and conductor; those that would be called the same
 * by their own names, and where these are the same as well, by their devices' too.
 */
export function labelsOf(points: readonly Point[]): string[] {
  const tries = [quantityLabel, ownName, pointTitle];
  return tries.reduce<string[]>((labels, label) => {
    const again = (own: string) => labels.filter((other) => other === own).length > 1;
    return labels.length === 0
      ? points.map(label)
      : labels.map((own, i) => (again(own) ? label(points[i] as Point) : own));
  }, []);
}
