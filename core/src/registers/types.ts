/** The four tables of a Modbus device (Modbus Application Protocol V1.1b3, section 4.3). */
export const REGISTER_KINDS = ['coil', 'discrete', 'input', 'holding'] as const;
export type RegisterKind = (typeof REGISTER_KINDS)[number];

export const VALUE_TYPES = [
  'bool',
  'uint16',
  'int16',
  'uint32',
  'int32',
  'uint64',
  'int64',
  'float32',
  'float64',
  'bcd16',
  'bcd32',
  'string',
] as const;
export type ValueType = (typeof VALUE_TYPES)[number];

/** Which of a value's words comes first on the wire: the most significant (as the protocol does) or the least. */
export const WORD_ORDERS = ['high-first', 'low-first'] as const;
export type WordOrder = (typeof WORD_ORDERS)[number];

/** Which byte of a word comes first: the most significant (as the protocol does) or the least. */
export const BYTE_ORDERS = ['high-first', 'low-first'] as const;
export type ByteOrder = (typeof BYTE_ORDERS)[number];

export const isBitKind = (kind: RegisterKind): boolean => kind === 'coil' || kind === 'discrete';
export const isWritableKind = (kind: RegisterKind): boolean => kind === 'coil' || kind === 'holding';

const WIDTH: Record<ValueType, number> = {
  bool: 1,
  uint16: 1,
  int16: 1,
  uint32: 2,
  int32: 2,
  float32: 2,
  uint64: 4,
  int64: 4,
  float64: 4,
  bcd16: 1,
  bcd32: 2,
  string: 1,
};

/** Number of 16-bit registers (or single bits, for a bool) that a type spans; a string has a length of its own. */
export const widthOf = (type: ValueType): number => WIDTH[type];
