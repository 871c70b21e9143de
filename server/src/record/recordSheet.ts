import type { CircuitRecord, RecordSection, RecordTable, SiteRecord } from '@loka/contract/record';
import type { Content, TableCell } from 'pdfmake/interfaces.js';
import { errorsDrawing } from './errorsDrawing.js';
import type { Sheet } from './pdfPress.js';

const STYLES: Sheet['styles'] = {
  title: { fontSize: 20, bold: true, margin: [0, 0, 0, 2] },
  circuit: { fontSize: 14, bold: true, margin: [0, 0, 0, 1] },
  part: { fontSize: 10.5, bold: true, margin: [0, 12, 0, 3] },
  quiet: { color: '#56646f' },
  open: { color: '#9a3412' },
};
const LOOK = {
  styles: STYLES,
  defaultStyle: { fontSize: 8.5, color: '#1d2b36', lineHeight: 1.12 },
  pageMargins: [42, 42, 42, 48] as [number, number, number, number],
};

/** The record of one circuit. */
export function circuitSheet(site: Pick<SiteRecord, 'site' | 'made' | 'who'>, record: CircuitRecord): Sheet {
  return {
    ...LOOK,
    info: { title: `${record.title}: record` },
    foot: `${site.site}: ${record.title}. Made ${site.made}, ${site.who}, with Loka`,
    content: [{ text: site.site, style: 'quiet' }, ...circuit(record), signatures()],
  };
}

/** The handover pack: the site, then every circuit on a page of its own. */
export function siteSheet(site: SiteRecord): Sheet {
  return {
    ...LOOK,
    info: { title: `${site.site}: handover` },
    foot: `${site.site}: handover. Made ${site.made}, ${site.who}, with Loka`,
    content: [
      { text: site.site, style: 'title' },
      {
        text: `Metering: what is fitted, how its wiring was proved, and how good its readings are. ${site.made}.`,
        style: 'quiet',
      },
      ...site.sections.flatMap(part),
      ...todo(site),
      signatures(),
      ...site.circuits.map((record): Content => ({ stack: circuit(record), pageBreak: 'before' })),
    ],
  };
}

/** What is open, circuit by circuit, so that nobody has to look for it. */
function todo({ circuits }: SiteRecord): Content[] {
  const open = circuits.filter((c) => c.open.length > 0);
  return [
    { text: 'What is open', style: 'part' },
    open.length === 0
      ? 'Nothing.'
      : { ul: open.map((c) => ({ text: [{ text: `${c.title}: `, bold: true }, c.open.join(' ')] })) },
  ];
}

const circuit = ({ title, place, open, sections }: CircuitRecord): Content[] => [
  { text: title, style: 'circuit' },
  ...(place ? [{ text: place, style: 'quiet' }] : []),
  ...open.map((words): Content => ({ text: words, style: 'open' })),
  ...sections.flatMap(part),
];

function part({ title, says, facts, tables, errors }: RecordSection): Content[] {
  const drawing = errors && errorsDrawing(errors);
  return [
    { text: title, style: 'part', headlineLevel: 1 },
    ...says.map((text): Content => ({ text })),
    ...(facts.length === 0
      ? []
      : [
          {
            layout: 'noBorders',
            table: {
              widths: [96, '*'],
              body: facts.map(([name, value]): TableCell[] => [{ text: name, style: 'quiet' }, value]),
            },
          } as Content,
        ]),
    ...tables.map(schedule),
    ...(drawing ? [{ svg: drawing, margin: [0, 6, 0, 0] } as Content] : []),
  ];
}

function schedule({ head, rows }: RecordTable): Content {
  const isNumber = head.map((h) => h.endsWith('#'));
  const cell = (text: string, i: number) => ({
    text,
    ...(isNumber[i] && { alignment: 'right' as const, noWrap: true }),
  });
  // The widest texts share what the others leave.
  const widest = head.map((_, i) => Math.max(...rows.map((row) => row[i]?.length ?? 0), 0));
  return {
    layout: 'schedule',
    margin: [0, 4, 0, 2],
    table: {
      headerRows: 1,
      dontBreakRows: true,
      widths: head.map((_, i) => (!isNumber[i] && (widest[i] as number) > 24 ? '*' : 'auto')),
      body: [
        head.map((h, i): TableCell => ({ ...cell(h.replace(/#$/, ''), i), style: 'quiet' })),
        ...rows.map((row) => row.map(cell)),
      ],
    },
  };
}

/** Two people sign what is handed over. */
const signatures = (): Content => ({
  margin: [0, 28, 0, 0],
  unbreakable: true,
  columnGap: 24,
  columns: ['Handed over by', 'Taken over by'].map((who) => ({
    stack: [
      { canvas: [{ type: 'line', x1: 0, y1: 0, x2: 230, y2: 0, lineWidth: 0.6 }] },
      { text: `${who}: name, date, signature`, style: 'quiet', margin: [0, 3, 0, 0] },
    ],
  })),
});
