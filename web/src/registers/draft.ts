import { keyOf, newPoint, spanOf, wireAddress, type PointDefinition } from '@loka/core/registers';

/** A key for a new point out of its name, different from those in use. */
export function keyFor(name: string, used: readonly string[]): string {
  const base = keyOf(name).slice(0, 50);
  let key = base;
  for (let i = 2; used.includes(key); i++) key = `${base}-${i}`;
  return key;
}

/** The values of a map as they are saved: those that were not in it before get their key from the name that they have now. */
export function keyedByName<T extends { key: string; name: string }>(rows: T[], before: readonly T[]): T[] {
  const saved = before.map((p) => p.key);
  const used = rows.map((r) => r.key).filter((key) => saved.includes(key));
  return rows.map((row) => {
    if (saved.includes(row.key)) return row;
    const key = keyFor(row.name, used);
    used.push(key);
    return { ...row, key };
  });
}

/**
 * The row that most likely comes next: like the last one, at the next free address. Two registers further on
 * after a two-register value, because that is where the slip usually happens.
 */
export function nextRow(rows: readonly PointDefinition[]): PointDefinition {
  const last = rows.at(-1);
  const keys = rows.map((r) => r.key);
  const name = `Value ${rows.length + 1}`;
  if (!last)
    return newPoint({ key: keyFor(name, keys), name, type: 'float32', unit: 'V', quantity: 'voltage' });
  return { ...last, key: keyFor(name, keys), name, address: following(last) };
}

function following(row: PointDefinition): string {
  const span = spanOf(row);
  if (!span) return '';
  const hex = /^0x/i.test(row.address.trim());
  const wire = span.start + span.count;
  if (row.counting === 'notation') {
    const digits = row.address.trim().length - 1;
    return `${row.address.trim()[0]}${String(wire + 1).padStart(digits, '0')}`;
  }
  const typed = row.counting === 'from-1' ? wire + 1 : wire;
  return hex ? `0x${typed.toString(16).toUpperCase()}` : String(typed);
}

/** "→ 0x0BB8" or the reason why there is no address on the wire. */
export const onTheWire = (row: PointDefinition): number | null => {
  const result = wireAddress(row.kind, row.address, row.counting);
  return result.ok ? result.wire : null;
};
