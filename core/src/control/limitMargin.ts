/**
 * How a cut-off's limit lies to what the load usually draws: above it by more than the reading may be off, within that, or
 * below, so that ordinary use cuts it off. All in the point's base unit, magnitudes.
 */
export function limitMargin(limit: number, usual: number, uncertainty: number): 'clear' | 'within' | 'below' {
  if (limit <= usual) return 'below';
  return limit - usual <= uncertainty ? 'within' : 'clear';
}
