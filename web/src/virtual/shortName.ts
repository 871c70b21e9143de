/** A short name for an input out of what it is called: the words that say most, none that is used already. */
export function shortName(point: string, device: string, used: readonly string[]): string {
  const plain = (text: string) =>
    text
      .toLowerCase()
      .normalize('NFKD')
      .replace(/\p{M}/gu, '')
      .replace(/[^a-z0-9]+/g, '_')
      .replace(/^_+|_+$/g, '');
  const skip = new Set(['meter', 'active', 'power', 'total', 'energy', 'imported', 'the', 'node', 'virtual']);
  const words = plain(device)
    .split('_')
    .filter((word) => word !== '' && !skip.has(word) && !/^\d/.test(word));
  const number = /\d+$/.exec(point)?.[0] ?? '';
  const base = (words.slice(0, 2).join('_') || plain(point) || 'input').replace(/^(\d)/, 'x$1') + number;
  let name = base.slice(0, 30);
  for (let i = 2; used.includes(name); i++) name = `${base.slice(0, 28)}_${i}`;
  return name;
}
