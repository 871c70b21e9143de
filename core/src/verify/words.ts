import { printInUnit } from '../formats/index.js';

/** "13.89 kW", "0.030 A" */
export function inWords(value: number, unit: string): string {
  return printInUnit(value, unit);
}

/** "L1", "L1 and L2", "L1, L2 and L3" */
export function listed(items: readonly string[]): string {
  return items.length <= 1 ? (items[0] ?? '') : `${items.slice(0, -1).join(', ')} and ${items.at(-1)}`;
}
