import {
  checkMessages,
  newMessage,
  topicFor,
  type Availability,
  type MessageDefinition,
} from '@loka/core/messages';
import { isReadable } from '@loka/core/points';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { useDevices, useTopics } from '../api/useApi.js';
import { keyedByName, keyFor } from '../registers/draft.js';
import { MapHeader } from '../registers/MapHeader.js';
import { moveInGrid } from '../points/gridKeys.js';
import { useDraft } from '../shared/useDraft.js';
import { MessageRow } from './MessageRow.js';
import { EditedMap, type MapEditorProps } from '../registers/EditedMap.js';
import { MEASURE_COLUMNS } from '../points/PointCells.js';
import { PointGrid, type Column } from '../points/PointGrid.js';
import styles from '../points/pointGrid.module.css';

/** The editor of a map of messages: topics, where in the payload a value stands, and who tells that it is there. */
export default function MessageMapPage() {
  return <EditedMap editor={Editor} />;
}

function Editor({ map, onRestored }: MapEditorProps) {
  const [search] = useSearchParams();
  const { data: devices = [] } = useDevices();
  const [name, setName] = useState(map.name);
  const draft = useDraft({ rows: map.messages, availability: map.availability });
  const { rows, availability } = draft.now;
  const setRows = (next: MessageDefinition[]) => draft.change({ rows: next, availability });
  const setAvailability = (next: Availability | null) => draft.change({ rows, availability: next });
  const users = devices.filter((d) => d.mapId === map.id);
  const device = users.find((d) => d.id === Number(search.get('device'))) ?? users[0];
  const { data: topics } = useTopics(device?.linkId ?? null);
  const seenOn = (row: MessageDefinition) =>
    topics?.topics.find((t) => t.topic === topicFor(row.topic, device?.topic ?? '')) ?? null;
  const faults = checkMessages(rows);
  const addRow = () => setRows([...rows, nextMessage(rows)]);
  const change = (index: number, row: MessageDefinition) =>
    setRows(rows.map((r, i) => (i === index ? row : r)));
  return (
    <div className={styles.page}>
      <MapHeader
        label="Map of messages"
        map={map}
        content={{
          name,
          description: map.description,
          points: [],
          messages: keyedByName(rows, map.messages),
          availability,
        }}
        draft={draft}
        faulty={faults.length > 0}
        back={device ? `/field?device=${device.id}` : '/field'}
        onName={setName}
        onRestored={onRestored}
      />
      <p className="muted">
        Version {map.version}.{' '}
        {users.length === 0
          ? 'No device is made from it.'
          : `Used by ${users.map((d) => d.name).join(', ')}.`}{' '}
        {'{device}'} in a topic stands for the base topic of each{device ? `, here ${device.topic}` : ''}.
      </p>
      <PointGrid columns={COLUMNS} onKeyDown={(e) => moveInGrid(e, addRow)}>
        {rows.map((row, index) => (
          <MessageRow
            key={row.key}
            row={row}
            base={device?.topic ?? ''}
            seen={seenOn(row)}
            faults={faults.filter((f) => f.index === index).map((f) => f.message)}
            onChange={(next) => change(index, next)}
            onRemove={() => setRows(rows.filter((_, i) => i !== index))}
          />
        ))}
      </PointGrid>
      <div>
        <Button variant="outlined" onClick={addRow}>
          Add a value
        </Button>
      </div>
      <section aria-label="Is it online?">
        <h2>Is it online?</h2>
        {availability ? (
          <div className={styles.availability}>
            {(['topic', 'online', 'offline'] as const).map((field) => (
              <TextField
                key={field}
                label={{ topic: 'Topic', online: 'Means there', offline: 'Means gone' }[field]}
                value={availability[field]}
                onChange={(e) => setAvailability({ ...availability, [field]: e.target.value })}
              />
            ))}
            <Button onClick={() => setAvailability(null)}>It has none</Button>
          </div>
        ) : (
          <p className="muted">
            Some devices have a topic on which they, or the broker on their behalf, report that they are
            online.{' '}
            <Button
              onClick={() => setAvailability({ topic: '{device}/online', online: 'yes', offline: 'no' })}
            >
              Add it
            </Button>
          </p>
        )}
      </section>
    </div>
  );
}

const COLUMNS: readonly Column[] = [
  ['Name'],
  ['Topic'],
  ['In the payload'],
  ['Time stamp at'],
  ['Gives', `${styles.gives} number`],
  ['On / off'],
  ...MEASURE_COLUMNS,
  ['Access'],
  ['Every'],
  [''],
];

/** The value that most likely comes next: on the same topic as the last one that is read. */
function nextMessage(rows: readonly MessageDefinition[]): MessageDefinition {
  const name = `Value ${rows.length + 1}`;
  const key = keyFor(
    name,
    rows.map((r) => r.key),
  );
  const last = rows.findLast(isReadable) ?? rows.at(-1);
  return newMessage({
    key,
    name,
    pointer: '/value',
    quantity: 'active-power',
    unit: 'W',
    ...(last ? { topic: last.topic, intervalMs: last.intervalMs } : {}),
    ...(last?.timePointer === undefined ? {} : { timePointer: last.timePointer }),
  });
}
