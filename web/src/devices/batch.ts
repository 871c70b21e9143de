/** How like devices differ: by unit id, by base topic, or by the address at which they stand. */
export type Difference = 'unit' | 'topic' | 'address';

export interface Member {
  name: string;
  unit: number;
  topic: string;
  address?: { host: string; port: number };
}

/**
 * Names with unit ids, topics or addresses that count up, `#` standing for the number; none while something is missing
 * or out of range.
 */
export function members({
  count,
  first,
  name,
  topic,
  unit,
  by,
}: {
  count: number;
  first: number;
  name: string;
  /** Of topics, or of addresses with their port. */
  topic: string;
  /** Of those that differ by address. */
  unit: number;
  by: Difference;
}): Member[] {
  if (!Number.isInteger(count) || !Number.isInteger(first) || count < 1 || count > 100 || first < 0)
    return [];
  if (by === 'unit' && first + count - 1 > 255) return [];
  const list = Array.from({ length: count }, (_, i): Member | null => {
    const n = String(first + i);
    const filled = (text: string) => (text.includes('#') ? text.replaceAll('#', n) : `${text} ${n}`);
    const base = { name: filled(name), unit: by === 'unit' ? first + i : unit, topic: '' };
    if (by === 'topic') return { ...base, unit: 1, topic: filled(topic).replace(' ', '') };
    if (by === 'unit') return base;
    const address = addressOf(topic.replaceAll('#', n));
    return address && topic.includes('#') ? { ...base, address } : null;
  });
  return list.every((m) => m !== null) ? list : [];
}

/** A host with its port, 502 when none is said; null while it is none. */
export function addressOf(text: string): { host: string; port: number } | null {
  const [, host, port = '502'] = /^([A-Za-z0-9][A-Za-z0-9.-]*)(?::(\d{1,5}))?$/.exec(text.trim()) ?? [];
  if (!host || Number(port) < 1 || Number(port) > 65535) return null;
  // Four numbers are an address; of those none is above 255.
  if (/^[\d.]+$/.test(host) && !/^(\d{1,3}\.){3}\d{1,3}$/.test(host)) return null;
  if (/^[\d.]+$/.test(host) && host.split('.').some((part) => Number(part) > 255)) return null;
  return { host, port: Number(port) };
}
