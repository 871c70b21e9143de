/**
 * Noise as a function of seed, name and time slot, not of how often it was asked: the building gives the same
 * values whatever the step size. Uniform in −1…1. (Mixing after the 32-bit finaliser of MurmurHash3.)
 */
export function noise(seed: number, name: string, slot: number): number {
  let h = seed ^ Math.imul(slot | 0, 0x9e3779b1);
  for (let i = 0; i < name.length; i++) h = Math.imul(h ^ name.charCodeAt(i), 0x01000193);
  h ^= h >>> 16;
  h = Math.imul(h, 0x85ebca6b);
  h ^= h >>> 13;
  h = Math.imul(h, 0xc2b2ae35);
  h ^= h >>> 16;
  return (h >>> 0) / 0x7fffffff - 1;
}

/** What was last asked for under a name: the model asks for the same slot many times in a row. */
const asked = new Map<string, { seed: number; slot: number; from: number; to: number }>();

/** Noise that moves smoothly from slot to slot of `periodMs`. */
export function drift(seed: number, name: string, t: number, periodMs: number): number {
  const slot = Math.floor(t / periodMs);
  let ends = asked.get(name);
  if (ends?.slot !== slot || ends.seed !== seed) {
    ends = { seed, slot, from: noise(seed, name, slot), to: noise(seed, name, slot + 1) };
    asked.set(name, ends);
  }
  const part = t / periodMs - slot;
  const smooth = part * part * (3 - 2 * part);
  return ends.from * (1 - smooth) + ends.to * smooth;
}
