import { isReadable } from '@loka/core/points';
import type { TrialRead } from '@loka/contract/acquisition';
import {
  checkMap,
  gapsOf,
  planReads,
  readSpanOf,
  type PointDefinition,
  type Span,
} from '@loka/core/registers';
import Button from '@mui/material/Button';
import { useState, type ClipboardEvent } from 'react';
import { useSearchParams } from 'react-router';
import { useDevices } from '../api/useApi.js';
import { EmptyState } from '../shared/states.js';
import { keyedByName, nextRow } from './draft.js';
import { EditedMap, type MapEditorProps } from './EditedMap.js';
import { FinderDialog } from './FinderDialog.js';
import { moveInGrid } from '../points/gridKeys.js';
import { MapHeader } from './MapHeader.js';
import { MapRow } from './MapRow.js';
import { isTable, pasteRows, type PasteColumn } from './pasteRows.js';
import { ForAllRows } from './ForAllRows.js';
import { setForAll } from './rowEdits.js';
import { takeInterpretation } from './takeInterpretation.js';
import { useDraft } from '../shared/useDraft.js';
import { useTrialRead } from './useTrialRead.js';
import { MEASURE_COLUMNS } from '../points/PointCells.js';
import { PointGrid, type Column } from '../points/PointGrid.js';
import styles from '../points/pointGrid.module.css';

/** The editor of a register map; beside each row the words that a device has there now. */
export default function MapPage() {
  return <EditedMap editor={MapEditor} />;
}

function MapEditor({ map, onRestored }: MapEditorProps) {
  const [search] = useSearchParams();
  const { data: loaded } = useDevices();
  const devices = loaded ?? [];
  const [name, setName] = useState(map.name);
  const [problem, setProblem] = useState<string | null>(null);
  const draft = useDraft(map.points);
  const rows = draft.now;
  const [finding, setFinding] = useState<string | null>(null);
  const users = devices.filter((d) => d.mapId === map.id);
  const device = devices.find((d) => d.id === Number(search.get('device'))) ?? users[0];
  const { reads, failed } = useTrialRead(device ? { linkId: device.linkId, unit: device.unit } : null, rows);
  const soughtRow = rows.find((row) => row.key === finding);
  const faults = checkMap(rows);
  const common = commonMessage([...reads.values()]);
  const take = (at: { row: number; column: PasteColumn }, text: string) => {
    const { rows: pasted, faults: wrong } = pasteRows(rows, at, text);
    if (wrong.length > 0)
      setProblem(
        `Nothing was pasted. ${wrong.slice(0, 8).join(' ')}${wrong.length > 8 ? ` And ${wrong.length - 8} more.` : ''}`,
      );
    else {
      setProblem(null);
      draft.change(pasted);
    }
  };
  const paste = (event: ClipboardEvent<HTMLTableElement>) => {
    const text = event.clipboardData.getData('text/plain');
    const cell = (event.target as HTMLElement).closest('td');
    if (!cell || !isTable(text)) return;
    event.preventDefault();
    const row = Math.max(
      0,
      rows.findIndex((r) => r.key === cell.parentElement?.dataset.key),
    );
    take({ row, column: PASTE_AT[cell.cellIndex] ?? 'name' }, text);
  };
  const addRow = () => draft.change([...rows, nextRow(rows)]);
  const gaps = gapNotes(rows);
  return (
    <div className={styles.page}>
      <MapHeader
        label="Register map"
        map={map}
        content={{
          name,
          description: map.description,
          points: keyedByName(rows, map.points),
          messages: [],
          availability: null,
        }}
        draft={draft}
        faulty={faults.length > 0}
        back={device ? `/field?device=${device.id}` : '/field'}
        onName={setName}
        onRestored={onRestored}
      />
      <p className="muted">
        {device
          ? `Reads ${device.name}, unit ${device.unit}, while you edit.`
          : loaded
            ? 'No device is made from it, so nothing can be read while you edit.'
            : '…'}
        {users.length > 1 &&
          ` ${users.length} devices share this map: ${users.map((d) => d.name).join(', ')}.`}
      </p>
      {(problem ?? failed ?? common) && (
        <p className={styles.fault} role="alert">
          {problem ?? failed ?? common}
        </p>
      )}
      <PointGrid
        columns={COLUMNS}
        className={styles.registers}
        hidden={rows.length === 0}
        onPaste={paste}
        onKeyDown={(e) => moveInGrid(e, addRow)}
      >
        {rows.map((row, index) => (
          <MapRow
            key={row.key}
            row={row}
            read={common === null ? reads.get(row.key) : undefined}
            faults={faults.filter((f) => f.index === index)}
            note={gaps.get(row.key)}
            onChange={(next) => draft.change(rows.map((r, i) => (i === index ? next : r)))}
            onRemove={() => draft.change(rows.filter((_, i) => i !== index))}
            onFind={device ? () => setFinding(row.key) : undefined}
          />
        ))}
      </PointGrid>
      {rows.length === 0 && (
        <EmptyState title="No values yet">
          Add the values that you need from the maker’s register table, or copy its lines in a spreadsheet and
          paste them here: name, kind, address, how it is counted, type, factor, quantity, unit.
          <textarea
            className={styles.pasteHere}
            rows={2}
            value=""
            aria-label="Paste a table here"
            placeholder={EXAMPLE}
            onChange={() => undefined}
            onPaste={(e) => {
              e.preventDefault();
              take({ row: 0, column: 'name' }, e.clipboardData.getData('text/plain'));
            }}
          />
        </EmptyState>
      )}
      <div>
        <Button variant="outlined" onClick={addRow}>
          Add a value
        </Button>
        {rows.length > 1 && <ForAllRows onSet={(forAll) => draft.change(setForAll(rows, forAll))} />}
        {faults.length > 0 && (
          <span className={styles.count}>
            {' '}
            {faults.length === 1 ? 'One thing needs' : `${faults.length} things need`} another look before the
            map can be saved.
          </span>
        )}
      </div>
      {soughtRow && device && (
        <FinderDialog
          row={soughtRow}
          target={{ linkId: device.linkId, unit: device.unit }}
          onTake={(found, quantity, forAll) => {
            draft.change(takeInterpretation(rows, soughtRow.key, found, quantity, forAll));
            setFinding(null);
          }}
          onClose={() => setFinding(null)}
        />
      )}
    </div>
  );
}

const COLUMNS: readonly Column[] = [
  ['Name'],
  ['Words now', `${styles.read} ${styles.words}`],
  ['Gives', `${styles.read} ${styles.given} number`],
  ['Kind'],
  ['Address'],
  ['Counted'],
  ['On the wire'],
  ['Type'],
  ['Words, bytes'],
  ...MEASURE_COLUMNS,
  ['Access'],
  ['Every'],
  [''],
];

/** Two lines of a table as it is pasted. */
const EXAMPLE = 'Voltage L1  input  3000  from 0  float32\nPower       input  3002  from 0  int32';

/** Which column of a pasted table goes into which cell of the grid. */
const PASTE_AT: Record<number, PasteColumn> = {
  0: 'name',
  3: 'kind',
  4: 'address',
  5: 'counting',
  7: 'type',
  9: 'factor',
  10: 'quantity',
  11: 'unit',
  12: 'phase',
  13: 'access',
  14: 'intervalMs',
};

/** By key of a row: that it begins a request of its own, and why. Each interval is polled by itself. */
function gapNotes(rows: readonly PointDefinition[]): Map<string, string> {
  const notes = new Map<string, string>();
  const read = rows.filter((row) => isReadable(row) && readSpanOf(row) !== null);
  for (const interval of new Set(read.map((row) => row.intervalMs))) {
    const requests = planReads(
      read.filter((row) => row.intervalMs === interval),
      (row) => readSpanOf(row) as Span,
    );
    for (const { item, message } of gapsOf(requests)) notes.set(item.key, message);
  }
  return notes;
}

/** The reason why nothing at all can be read, said once instead of in every row. */
function commonMessage(reads: TrialRead[]): string | null {
  const first = reads[0]?.message ?? null;
  return first !== null && reads.every((r) => r.words === null && r.message === first) ? first : null;
}
