/**
 * The way round by which a point would come to depend on itself; null when there is none.
 * @param inputsOf the points that a point is computed from; none for a measured one
 */
export function cycleThrough(
  pointId: number,
  inputs: readonly number[],
  inputsOf: (pointId: number) => readonly number[],
): number[] | null {
  const seen = new Set<number>();
  const visit = (id: number, way: number[]): number[] | null => {
    if (id === pointId) return [...way, id];
    if (seen.has(id)) return null;
    seen.add(id);
    for (const next of inputsOf(id)) {
      const found = visit(next, [...way, id]);
      if (found) return found;
    }
    return null;
  };
  for (const id of inputs) {
    const found = visit(id, [pointId]);
    if (found) return found;
  }
  return null;
}
