/** The path of a line over values that follow one another; where one is not known it is broken. */
export const pathOver = (
  values: readonly (number | null)[],
  x: (index: number) => number,
  y: (value: number) => number,
): string =>
  values
    .map((v, i) =>
      v === null ? '' : `${values[i - 1] == null ? 'M' : 'L'}${x(i).toFixed(1)} ${y(v).toFixed(1)}`,
    )
    .join('');

/** The outline of a band between two lines, over what is known of both; empty where nothing is. */
export const bandOver = (
  from: readonly (number | null)[],
  to: readonly (number | null)[],
  x: (index: number) => number,
  y: (value: number) => number,
): string => {
  const known = from.map((_, i) => i).filter((i) => from[i] != null && to[i] != null);
  const at = (values: readonly (number | null)[]) => (i: number) =>
    `${x(i).toFixed(1)} ${y(values[i] as number).toFixed(1)}`;
  const corners = [...known.map(at(to)), ...known.toReversed().map(at(from))];
  return corners.length === 0 ? '' : `M${corners.join('L')}Z`;
};
