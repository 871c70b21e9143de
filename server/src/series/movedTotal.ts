import { applyLine, correctFlow, correctSlots, lineAt, lineOver, type Slots } from '@loka/core/series';
import type { Part } from './lineBook.js';

/**
 * A point moved by what others of its meter add to it, by the lines that hold at an instant; what is lowest and highest in it
 * is moved by the mean of that.
 */
export function moveByParts(total: Slots, parts: readonly { slots: Slots; part: Part; at: number }[]): Slots {
  const out = correctSlots(total, () => null);
  for (let i = 0; i < total.length; i++) {
    if ((total.covered[i] as number) === 0) continue;
    let by = 0;
    for (const { slots, part, at } of parts) {
      if ((slots.covered[i] as number) === 0) continue;
      const mean = (slots.plus[i] as number) - (slots.minus[i] as number);
      const line = lineOver(lineAt(part.lines, at), slots.min[i] as number, slots.max[i] as number);
      by += applyLine(line, mean) - (part.isWithin ? mean : 0);
    }
    out.min[i] = (out.min[i] as number) + by;
    out.max[i] = (out.max[i] as number) + by;
    out.last[i] = (out.last[i] as number) + by;
    const [plus, minus] = correctFlow(
      total.plus[i] as number,
      total.minus[i] as number,
      { gain: 1, offset: by },
      out.min[i] as number,
      out.max[i] as number,
    );
    out.plus[i] = plus;
    out.minus[i] = minus;
  }
  return out;
}
