import type { Content, TableCell } from 'pdfmake/interfaces.js';
import type { Sheet } from './pdfPress.js';

/** What a label says, and where its code leads. */
export interface Label {
  title: string;
  device: string;
  site: string;
  url: string;
}

/** Three columns of seven on A4, as sheets of labels of 63.5 mm by 38.1 mm have. */
const [COLUMNS, ROWS] = [3, 7];
const MM = 72 / 25.4;
const [WIDE, HIGH, GAP] = [63.5 * MM, 38.1 * MM, 2.5 * MM];
const [SIDE, TOP] = [7.25 * MM, 15.15 * MM];

/** Labels to stick on devices. @param skip of the first sheet that are gone already */
export function labelsSheet(labels: readonly Label[], skip = 0): Sheet {
  const cells: (Label | null)[] = [...Array.from({ length: skip }, () => null), ...labels];
  const sheets = Array.from({ length: Math.ceil(cells.length / (COLUMNS * ROWS)) }, (_, i) =>
    cells.slice(i * COLUMNS * ROWS, (i + 1) * COLUMNS * ROWS),
  );
  return {
    info: { title: 'Labels' },
    defaultStyle: { fontSize: 7.5 },
    pageMargins: [SIDE, TOP, SIDE, 0],
    content: sheets.map((sheet, i): Content => ({
      ...(i > 0 && { pageBreak: 'before' }),
      layout: 'noBorders',
      table: {
        widths: [WIDE - 8, GAP - 8, WIDE - 8, GAP - 8, WIDE - 8],
        heights: HIGH - 4,
        body: Array.from({ length: Math.ceil(sheet.length / COLUMNS) }, (_, row) =>
          Array.from({ length: 2 * COLUMNS - 1 }, (__, column): TableCell => {
            const label = column % 2 === 0 ? sheet[row * COLUMNS + column / 2] : null;
            return label ? one(label) : '';
          }),
        ),
      },
    })),
  };
}

const one = ({ title, device, site, url }: Label): TableCell => ({
  columns: [
    { qr: url, fit: 86, width: 92, eccLevel: 'M' },
    {
      stack: [
        { text: title, bold: true, fontSize: 9 },
        { text: device, margin: [0, 2, 0, 0] },
        { text: site, color: '#56646f', margin: [0, 2, 0, 0] },
      ],
    },
  ],
});
