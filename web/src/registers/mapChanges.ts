/** What a map holds, as far as it is compared. */
export interface ComparedMap {
  name: string;
  points: readonly { key: string; name: string }[];
  messages: readonly { key: string; name: string }[];
}

/** In words, by value: what was made, changed and taken out between two states of a map. */
export function mapChanges(before: ComparedMap, after: ComparedMap): Map<string, string> {
  const changes = new Map<string, string>();
  if (before.name !== after.name) changes.set('the map’s name', `“${after.name}”`);
  const [was, is] = [valuesOf(before), valuesOf(after)];
  for (const [key, value] of is) {
    const old = was.get(key);
    if (!old) changes.set(value.name, 'new');
    else if (JSON.stringify(inOrder(old)) !== JSON.stringify(inOrder(value)))
      changes.set(old.name, old.name === value.name ? 'changed' : `now “${value.name}”`);
  }
  for (const [key, { name }] of was) if (!is.has(key)) changes.set(name, 'taken out');
  return changes;
}

const valuesOf = ({ points, messages }: ComparedMap) =>
  new Map([...points, ...messages].map((v) => [v.key, v]));

/** The same value however its members are ordered; the database does not keep their order. */
function inOrder(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(inOrder);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value)
      .filter(([, v]) => v !== undefined)
      .sort(([a], [b]) => a.localeCompare(b))
      .map(([k, v]) => [k, inOrder(v)]),
  );
}
