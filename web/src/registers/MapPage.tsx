import type { TrialRead } from '@loka/contract/devices';
import { toDefinition, type RegisterMap } from '@loka/contract/registers';
import { checkMap, type PointDefinition } from '@loka/core/registers';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useEffect, useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { mutate } from 'swr';
import { api, inWords } from '../api/client.js';
import { useDevices, useRegisterMaps } from '../api/useApi.js';
import { useNotices } from '../shared/notices.js';
import { EmptyState, LoadingState } from '../shared/states.js';
import { keyFor, nextRow } from './draft.js';
import { FinderDialog } from './FinderDialog.js';
import { MapRow } from './MapRow.js';
import { takeInterpretation } from './takeInterpretation.js';
import { useDraft } from './useDraft.js';
import { useTrialRead } from './useTrialRead.js';
import styles from './MapPage.module.css';

/** The editor of a register map; beside each row the words that a device has there now. */
export default function MapPage() {
  const { mapId } = useParams();
  const { data: maps } = useRegisterMaps();
  if (!maps) return <LoadingState />;
  const map = maps.find((m) => m.id === Number(mapId));
  if (!map)
    return (
      <EmptyState title="There is no such map" action={<Link to="/field">To the links and maps</Link>} />
    );
  return <MapEditor key={map.id} map={map} />;
}

function MapEditor({ map }: { map: RegisterMap }) {
  const [search] = useSearchParams();
  const { data: devices = [] } = useDevices();
  const navigate = useNavigate();
  const { say } = useNotices();
  const [name, setName] = useState(map.name);
  const [problem, setProblem] = useState<string | null>(null);
  const draft = useDraft(map.points);
  const [finding, setFinding] = useState<string | null>(null);
  const users = devices.filter((d) => d.mapId === map.id);
  const device = devices.find((d) => d.id === Number(search.get('device'))) ?? users[0];
  const { reads, failed } = useTrialRead(
    device ? { linkId: device.linkId, unit: device.unit } : null,
    draft.rows,
  );
  const soughtRow = draft.rows.find((row) => row.key === finding);
  const faults = checkMap(draft.rows);
  const common = commonMessage([...reads.values()]);
  const { undo, redo } = draft;

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z') return;
      event.preventDefault();
      if (event.shiftKey) redo();
      else undo();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [undo, redo]);

  const remove = async () => {
    setProblem(null);
    try {
      await api(`/register-maps/${map.id}`, 'DELETE');
      void navigate('/field');
      await mutate('/register-maps');
      const { name: before, description, points } = map;
      say(`“${before}” was taken off.`, () =>
        api('/register-maps', 'POST', { name: before, description, points: points.map(toDefinition) }),
      );
    } catch (error) {
      setProblem(inWords(error));
    }
  };
  const save = async () => {
    setProblem(null);
    try {
      await api(`/register-maps/${map.id}`, 'PUT', {
        name,
        description: map.description,
        points: named(draft.rows, map).map(toDefinition),
      });
      await Promise.all([mutate('/register-maps'), mutate('/points'), mutate('/devices')]);
      say('The map was saved.');
      void navigate(device ? `/field?device=${device.id}` : '/field');
    } catch (error) {
      setProblem(inWords(error));
    }
  };
  return (
    <div className={styles.page}>
      <div className={styles.title}>
        <TextField
          label="Register map"
          value={name}
          onChange={(e) => setName(e.target.value)}
          sx={{ maxWidth: 360 }}
          error={name.trim() === ''}
        />
        <p className="muted">
          {device
            ? `Reads ${device.name}, unit ${device.unit}, while you edit.`
            : 'No device is made from it, so nothing can be read while you edit.'}
          {users.length > 1 &&
            ` ${users.length} devices share this map: ${users.map((d) => d.name).join(', ')}.`}
        </p>
        <span className={styles.space} />
        <Button onClick={undo} disabled={!draft.canUndo}>
          Undo
        </Button>
        <Button onClick={redo} disabled={!draft.canRedo}>
          Redo
        </Button>
        <Button component={Link} to={device ? `/field?device=${device.id}` : '/field'}>
          {draft.dirty ? 'Discard' : 'Back'}
        </Button>
        {map.deviceIds.length === 0 && (
          <Button color="error" onClick={() => void remove()}>
            Take off
          </Button>
        )}
        <Button
          variant="contained"
          disabled={faults.length > 0 || name.trim() === ''}
          onClick={() => void save()}
        >
          Save map
        </Button>
      </div>
      {(problem ?? failed ?? common) && (
        <p className={styles.fault} role="alert">
          {problem ?? failed ?? common}
        </p>
      )}
      <div className={styles.grid}>
        <table className="plain">
          <thead>
            <tr>
              <th>Name</th>
              <th>Kind</th>
              <th>Address</th>
              <th>Counted</th>
              <th>On the wire</th>
              <th className={styles.read}>Words now</th>
              <th className={`${styles.read} number`}>Gives</th>
              <th>Type</th>
              <th>Words, bytes</th>
              <th>Scaling</th>
              <th>Quantity</th>
              <th>Unit</th>
              <th>Conductor</th>
              <th>Access</th>
              <th>Every, ms</th>
              <th aria-label="Take off" />
            </tr>
          </thead>
          <tbody>
            {draft.rows.map((row, index) => (
              <MapRow
                key={row.key}
                row={row}
                read={common === null ? reads.get(row.key) : undefined}
                faults={faults.filter((f) => f.index === index)}
                onChange={(next) => draft.change(draft.rows.map((r, i) => (i === index ? next : r)))}
                onRemove={() => draft.change(draft.rows.filter((_, i) => i !== index))}
                onFind={device ? () => setFinding(row.key) : undefined}
              />
            ))}
          </tbody>
        </table>
      </div>
      {draft.rows.length === 0 && (
        <EmptyState title="No values yet">
          Add the values that you need from the maker’s register table.
        </EmptyState>
      )}
      <div>
        <Button variant="outlined" onClick={() => draft.change([...draft.rows, nextRow(draft.rows)])}>
          Add a value
        </Button>
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
            draft.change(takeInterpretation(draft.rows, soughtRow.key, found, quantity, forAll));
            setFinding(null);
          }}
          onClose={() => setFinding(null)}
        />
      )}
    </div>
  );
}

/** The reason why nothing at all can be read, said once instead of in every row. */
function commonMessage(reads: TrialRead[]): string | null {
  const first = reads[0]?.message ?? null;
  return first !== null && reads.every((r) => r.words === null && r.message === first) ? first : null;
}

/** Rows that were not in the map before get their key from the name that they have now. */
function named(rows: PointDefinition[], map: RegisterMap): PointDefinition[] {
  const saved = map.points.map((p) => p.key);
  const used = rows.map((r) => r.key).filter((key) => saved.includes(key));
  return rows.map((row) => {
    if (saved.includes(row.key)) return row;
    const key = keyFor(row.name, used);
    used.push(key);
    return { ...row, key };
  });
}
