import { applyLine, correctFlow, correctSlots, lineOver, type Line, type Slots } from '@loka/core/series';

/** A total moved by what its lines are corrected by; what is lowest and highest in it is moved by the mean of that. */
export function moveByParts(total: Slots, parts: readonly { slots: Slots; line: Line }[]): Slots {
  const out = correctSlots(total, () => null);
  for (let i = 0; i < total.length; i++) {
    if ((total.covered[i] as number) === 0) continue;
    let by = 0;
    for (const { slots, line } of parts) {
      if ((slots.covered[i] as number) === 0) continue;
      const mean = (slots.plus[i] as number) - (slots.minus[i] as number);
      by += applyLine(lineOver(line, slots.min[i] as number, slots.max[i] as number), mean) - mean;
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
