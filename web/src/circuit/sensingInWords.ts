import type { Sensing } from '@loka/core/sensing';

/** "2 turns, ratio 2000, 22 Ω, reversed" */
export function sensingInWords({ turns, ratio, burden, reversed }: Sensing): string {
  const parts = [
    turns === 1 ? '' : `${turns} turns`,
    ratio === 1 ? '' : `ratio ${Number(ratio.toPrecision(6))}`,
    burden === null ? '' : `${burden} Ω`,
    reversed ? 'arrow away from the load' : '',
  ].filter(Boolean);
  return parts.length === 0 ? 'One turn, arrow to the load' : parts.join(', ');
}
