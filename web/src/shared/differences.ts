/** Members of a form in which what is typed and what is there now are not the same. */
export function differences(
  mine: object,
  theirs: Record<string, unknown>,
  fields: object,
): { field: string; mine: unknown; theirs: unknown }[] {
  return Object.keys(fields)
    .filter((field) => field in theirs)
    .map((field) => ({ field, mine: (mine as Record<string, unknown>)[field], theirs: theirs[field] }))
    .filter((row) => said(row.mine) !== said(row.theirs));
}

/** Nothing, null and an empty text are the same to somebody who looks at a form. */
const said = (value: unknown): string =>
  value === undefined || value === null || value === '' ? '' : JSON.stringify(value);
