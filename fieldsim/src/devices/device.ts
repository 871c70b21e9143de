/** A device of the building as its makers built it: named values, and the registers in which they lie. */
export interface FieldDevice {
  readonly name: string;
  readonly unit: number;
  /** Maker, product, version: what function 43/14 answers; missing where the device does not know it. */
  readonly identification?: readonly [maker: string, product: string, version: string];
  /** The named values that the device has now, in base units, as rounded by its own registers. */
  values(): Record<string, number>;
  /** The word in an input or holding register; undefined where the device has none. */
  register(address: number): number | undefined;
  /** The bit of a discrete input or coil; undefined where the device has none. */
  bit(kind: 'coil' | 'discrete', address: number): boolean | undefined;
  /** Writes a coil; false where the device has none. */
  writeCoil(address: number, value: boolean): boolean;
  /** Writes a holding register; false, or missing, where the device has none. */
  writeRegister?(address: number, value: number): boolean;
}

/** The two words of a float, most significant first. */
export function floatWords(value: number): [number, number] {
  const view = new DataView(new ArrayBuffer(4));
  view.setFloat32(0, value);
  return [view.getUint16(0), view.getUint16(2)];
}

/** What has no bits. */
export const NO_BITS = {
  bit: (): undefined => undefined,
  writeCoil: (): boolean => false,
};
