import { isBitKind, type RegisterKind } from './types.js';

/**
 * How the maker's table counts: from 0 as on the wire, from 1 as the protocol's data model does, or in the
 * notation whose first digit names the table (00001, 10001, 30001, 40001; five or six digits, from 1).
 */
export const COUNTINGS = ['from-0', 'from-1', 'notation'] as const;
export type Counting = (typeof COUNTINGS)[number];

export type AddressResult = { ok: true; wire: number } | { ok: false; message: string };

const NOTATION_DIGIT: Record<RegisterKind, string> = { coil: '0', discrete: '1', input: '3', holding: '4' };
const KIND_WORDS: Record<RegisterKind, string> = {
  coil: 'coil',
  discrete: 'discrete input',
  input: 'input register',
  holding: 'holding register',
};

/** The kind of register in words, for messages. */
export const kindInWords = (kind: RegisterKind): string => KIND_WORDS[kind];

/**
 * The address that goes on the wire (0–65535) for an address as typed.
 * Decimal, or hexadecimal with a leading 0x (not in the digit notation); "base+offset" where the maker's table
 * gives a base address and offsets from it. The result carries a message that says what would be right instead of
 * throwing, because the form shows it while one types.
 */
export function wireAddress(kind: RegisterKind, typed: string, counting: Counting): AddressResult {
  const text = typed.trim();
  const sum = /^([^+]+)\+([^+]+)$/.exec(text);
  if (sum) return withOffset(kind, sum[1] as string, (sum[2] as string).trim(), counting);
  if (text === '') return no('Type the address from the maker’s table, for example 3000 or 0x0BB8.');
  if (counting === 'notation') return fromNotation(kind, text);
  const value = parseNumber(text);
  if (Number.isNaN(value)) return no(`“${typed}” is not an address. Digits only, or hexadecimal as 0x0BB8.`);
  const first = counting === 'from-1' ? 1 : 0;
  if (value < first)
    return no('A table that counts from 1 has no address 0. Choose “from 0”, or type 1 or more.');
  if (value - first > 65535) return no(`${text} is too large: the last address is ${65535 + first}.`);
  return { ok: true, wire: value - first };
}

function withOffset(kind: RegisterKind, base: string, offset: string, counting: Counting): AddressResult {
  const first = wireAddress(kind, base, counting);
  if (!first.ok) return first;
  const steps = parseNumber(offset);
  if (Number.isNaN(steps)) return no(`“${offset}” is not an offset. Digits only, or hexadecimal as 0x12.`);
  if (first.wire + steps > 65535) return no(`${base.trim()}+${offset} is beyond the last register.`);
  return { ok: true, wire: first.wire + steps };
}

/** A number as typed, decimal or hexadecimal with 0x; NaN when it is none. */
export const parseNumber = (text: string): number =>
  /^\d+$/.test(text) ? Number(text) : /^0x[0-9a-f]+$/i.test(text) ? parseInt(text, 16) : NaN;

function fromNotation(kind: RegisterKind, text: string): AddressResult {
  const digit = NOTATION_DIGIT[kind];
  if (!/^\d{5,6}$/.test(text))
    return no(`This notation has five or six digits: ${digit}0001 is the first ${KIND_WORDS[kind]}.`);
  if (text[0] !== digit) {
    const other = (Object.keys(NOTATION_DIGIT) as RegisterKind[]).find((k) => NOTATION_DIGIT[k] === text[0]);
    return no(
      other
        ? `${text} names a ${KIND_WORDS[other]}. Choose that kind, or type ${digit}${text.slice(1)}.`
        : `The first digit names the table; for a ${KIND_WORDS[kind]} it is ${digit}.`,
    );
  }
  const number = Number(text.slice(1));
  if (number < 1 || number > 65536)
    return no(`After the ${digit} comes a number from 1 to ${text.length === 5 ? 9999 : 65536}.`);
  return { ok: true, wire: number - 1 };
}

const no = (message: string): AddressResult => ({ ok: false, message });

/** Words or bits, for messages: "register" or "bit". */
export const unitOfKind = (kind: RegisterKind): string => (isBitKind(kind) ? 'bit' : 'register');
