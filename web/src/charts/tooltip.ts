/** What the box beside the pointer says. */
export interface Tooltip {
  head: string;
  rows: { text: string; colour: string }[];
}

/** Draws it with text nodes, so that no name of a device can be markup. */
export function tooltipBox({ head, rows }: Tooltip): HTMLElement {
  const box = document.createElement('div');
  box.append(Object.assign(document.createElement('div'), { textContent: head }));
  for (const { text, colour } of rows) {
    const row = Object.assign(document.createElement('div'), { textContent: text });
    row.style.color = colour;
    box.append(row);
  }
  return box;
}
