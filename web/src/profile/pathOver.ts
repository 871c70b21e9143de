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
