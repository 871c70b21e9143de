/** Thrown when a text is no range of addresses or unit ids, or one too large to be searched. */
export class SearchRangeError extends Error {
  override name = 'SearchRangeError';
}

/** More addresses than this take too long, and look like an attack to whoever looks after the network. */
export const MOST_ADDRESSES = 1024;

/**
 * IPv4 addresses out of what a person types: single ones, ranges (192.168.1.40-60, 10.0.0.1-10.0.0.9) and networks
 * (192.168.1.0/24, without its network and broadcast addresses), separated by commas. @throws SearchRangeError
 */
export function addressesIn(text: string): string[] {
  const found = new Set<number>();
  for (const part of parts(text, 'an address, for example 192.168.1.0/24 or 192.168.1.40-60'))
    for (const n of addressesOf(part)) {
      found.add(n);
      if (found.size > MOST_ADDRESSES)
        throw new SearchRangeError(`That is more than ${MOST_ADDRESSES} addresses; search a smaller range.`);
    }
  return [...found].map(toText);
}

function* addressesOf(part: string): Generator<number> {
  const network = /^([\d.]+)\/(\d{1,2})$/.exec(part);
  if (network) {
    const bits = Number(network[2]);
    if (bits < 8 || bits > 32) throw new SearchRangeError(`/${bits} is not a network here; /8 to /32 are.`);
    const size = 2 ** (32 - bits);
    const first = Math.floor(toNumber(network[1] as string) / size) * size;
    const edge = bits <= 30 ? 1 : 0;
    for (let n = first + edge; n < first + size - edge; n++) yield n;
    return;
  }
  const [from, to, more] = part.split('-').map((s) => s.trim());
  if (more !== undefined) throw new SearchRangeError(`“${part}” is not a range of addresses.`);
  const first = toNumber(from as string);
  const last =
    to === undefined
      ? first
      : /^\d{1,3}$/.test(to)
        ? toNumber(`${(from as string).replace(/\d+$/, '')}${to}`)
        : toNumber(to);
  if (last < first) throw new SearchRangeError(`“${part}” runs backwards.`);
  for (let n = first; n <= last; n++) yield n;
}

function toNumber(address: string): number {
  const bytes = address.split('.');
  if (bytes.length !== 4 || !bytes.every((b) => /^\d{1,3}$/.test(b) && Number(b) < 256))
    throw new SearchRangeError(`“${address}” is not an address such as 192.168.1.40.`);
  return bytes.reduce((n, b) => n * 256 + Number(b), 0);
}

const toText = (n: number): string =>
  [24, 16, 8, 0].map((shift) => Math.floor(n / 2 ** shift) % 256).join('.');

/** Whole numbers out of "1-10, 20", each once, ascending. @throws SearchRangeError */
export function numbersIn(text: string, low: number, high: number, what: string): number[] {
  const found = new Set<number>();
  for (const part of parts(text, `${what}, for example ${low}-${Math.min(high, low + 9)}`)) {
    const match = /^(\d+)(?:\s*-\s*(\d+))?$/.exec(part);
    const first = Number(match?.[1]);
    const last = match?.[2] === undefined ? first : Number(match[2]);
    if (!match || first < low || last > high || last < first)
      throw new SearchRangeError(`“${part}” is not among ${low} to ${high} (${what}).`);
    for (let n = first; n <= last; n++) found.add(n);
  }
  return [...found].sort((a, b) => a - b);
}

function parts(text: string, example: string): string[] {
  const list = text
    .split(',')
    .map((s) => s.trim())
    .filter((s) => s !== '');
  if (list.length === 0) throw new SearchRangeError(`Type ${example}.`);
  return list;
}
