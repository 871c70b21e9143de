import type { KeyboardEvent } from 'react';

/**
 * Up, down and Enter in a field of a grid go to the same column of the next row, as in a spreadsheet. Selects keep
 * their own arrows.
 * @param onEnd what Enter does in the last row
 */
export function moveInGrid(event: KeyboardEvent<HTMLElement>, onEnd: () => void): void {
  const field = event.target as HTMLElement;
  const isSelect = field.tagName === 'SELECT';
  const step = event.key === 'ArrowUp' ? -1 : event.key === 'ArrowDown' || event.key === 'Enter' ? 1 : 0;
  if (step === 0 || (isSelect && event.key !== 'Enter') || !['INPUT', 'SELECT'].includes(field.tagName))
    return;
  const cell = field.closest('td');
  const row = cell?.parentElement as HTMLTableRowElement | null;
  if (!cell || !row) return;
  const rows = [...(row.parentElement?.children ?? [])].filter(
    (r): r is HTMLTableRowElement => (r as HTMLTableRowElement).cells.length === row.cells.length,
  );
  event.preventDefault();
  const target = rows[rows.indexOf(row) + step];
  if (!target) return step > 0 && event.key === 'Enter' ? onEnd() : undefined;
  const within = [...cell.querySelectorAll('input,select')].indexOf(field);
  const fields = target.cells[cell.cellIndex]?.querySelectorAll<HTMLElement>('input,select');
  (fields?.[within] ?? fields?.[0])?.focus();
}
