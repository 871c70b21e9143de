import { SearchInput, type FoundDevice, type Search } from '@loka/contract/search';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { useDevices, useLastSearch } from '../api/useApi.js';
import { makeMap } from '../devices/mapChoice.js';
import { EmptyState } from '../shared/states.js';
import { useNotices } from '../shared/notices.js';
import { PlainTable } from '../shared/PlainTable.js';
import { useProblemForm } from '../shared/useProblemForm.js';
import styles from './SearchPage.module.css';
import { DurationField } from '../shared/TypedField.js';

/** Looks for devices at a range of addresses, and adds what was found with one click. */
export default function SearchPage() {
  const { data } = useLastSearch();
  const [query] = useSearchParams();
  const { attempt } = useNotices();
  const networks = data?.networks ?? [];
  const search = data?.search ?? null;
  const running = search?.state === 'running';
  const form = useProblemForm(
    SearchInput,
    { addresses: query.get('at') ?? '127.0.0.1', ports: '502', units: '1-5', timeoutMs: 300 },
    async (values) => {
      await api<Search>('/searches', 'POST', values);
      await mutate('/searches/last');
    },
  );
  return (
    <div className={styles.page}>
      <div className={styles.title}>
        <h1>Find devices</h1>
        <span className="muted">that speak Modbus TCP, in {networks.join(', ') || '…'}</span>
        <span className={styles.space} />
        <Button component={Link} to="/field">
          Back
        </Button>
      </div>
      <form className={styles.form} onSubmit={form.submit} noValidate>
        <TextField label="Addresses" placeholder="192.168.1.0/24" {...form.text('addresses')} />
        <TextField label="Ports" {...form.text('ports')} />
        <TextField label="Unit ids" {...form.text('units')} />
        <DurationField control={form.control} name="timeoutMs" label="Wait for each" />
        <div>
          {running ? (
            <Button
              variant="outlined"
              onClick={() => void attempt(() => api(`/searches/${search.id}/cancel`, 'POST'))}
            >
              Cancel
            </Button>
          ) : (
            <Button type="submit" variant="contained" disabled={form.busy}>
              Search
            </Button>
          )}
        </div>
      </form>
      {form.problem && (
        <p className="danger" role="alert">
          {form.problem}
        </p>
      )}
      {search && (
        <div role="status">
          {running && (
            <LinearProgress
              variant="determinate"
              value={(search.tried / search.of) * 100}
              aria-label="Search"
            />
          )}
          <p className="muted">
            {search.tried} of {search.of} addresses and ports tried,{' '}
            {search.found.length === 1 ? '1 unit found' : `${search.found.length} units found`}
            {search.state === 'cancelled' ? '; cancelled' : ''}
            {search.message ? `; ${search.message}` : ''}
          </p>
        </div>
      )}
      {search && search.found.length > 0 && (
        <PlainTable head={['Address', 'Unit#', 'Says of itself', 'Recognised as', 'Name', '']}>
          {search.found.map((found) => (
            <FoundRow key={`${found.host}:${found.port}/${found.unit}`} found={found} />
          ))}
        </PlainTable>
      )}
      {search && search.mute.length > 0 && (
        <EmptyState title="Connected, but no unit answered">
          {listed(search.mute)} {search.mute.length === 1 ? 'takes' : 'take'} connections, but no unit
          answered. Try other unit ids or a longer wait, and check that this is a Modbus port.
        </EmptyState>
      )}
      {search?.state === 'done' && search.found.length === 0 && search.mute.length === 0 && (
        <EmptyState title="Nothing answered">
          Check that the devices have power and are in this network, that their Modbus server is switched on,
          and try port 502 with unit ids 1 to 10.
        </EmptyState>
      )}
    </div>
  );
}

/** Places that are named, of many the first. */
const NAMED = 5;
function listed(places: Search['mute']): string {
  const named = places.slice(0, NAMED).map(({ host, port }) => `${host}:${port}`);
  const more = places.length - named.length;
  return more > 0 ? `${named.join(', ')} and ${more} more` : named.join(', ');
}

function FoundRow({ found }: { found: FoundDevice }) {
  const { data: devices = [] } = useDevices();
  const { attempt, say } = useNotices();
  const options = [
    ...(found.sunspec ? [{ id: 0, label: `${found.sunspec.words} (SunSpec ${found.sunspec.model})` }] : []),
    ...found.maps.map((m) => ({
      id: m.id,
      label: `${m.name}, ${Math.round(m.plausibility * 100)} % plausible`,
    })),
  ];
  const [mapId, setMapId] = useState(options[0]?.id ?? -1);
  const [name, setName] = useState(nameFor(found));
  const there = devices.find((d) => d.id === found.deviceId);
  const navigate = useNavigate();
  const addWith = async (map: number | null) => {
    const { host, port, unit } = found;
    const { id } = await api<{ id: number }>('/searches/add', 'POST', { name, host, port, unit, mapId: map });
    await mutate(() => true);
    return id;
  };
  /** With a map that has still to be made. */
  const describe = () =>
    void attempt(async () => {
      const map = await makeMap(name);
      const id = await addWith(map);
      void navigate(`/field/map/${map}?device=${id}`);
    });
  const add = () =>
    void attempt(async () => {
      const id = await addWith(mapId === 0 ? null : mapId);
      say(`${name} was added.`, () => api(`/devices/${id}`, 'DELETE'));
    });
  return (
    <tr>
      <td className="measured inline">
        {found.host}:{found.port}
      </td>
      <td className={`number measured inline ${styles.unit}`}>{found.anyUnit ? 'any' : found.unit}</td>
      <td>{found.identification ?? <span className="muted">nothing</span>}</td>
      <td>
        {options.length === 0 ? (
          <span className="muted">not recognised</span>
        ) : (
          <select
            value={mapId}
            aria-label={`Unit ${found.unit} at port ${found.port} is`}
            className={styles.select}
            onChange={(e) => setMapId(Number(e.target.value))}
          >
            {options.map((o) => (
              <option key={o.id} value={o.id}>
                {o.label}
              </option>
            ))}
          </select>
        )}
      </td>
      <td>
        {!there && (
          <input
            className="plain"
            value={name}
            aria-label={`Name of unit ${found.unit} at port ${found.port}`}
            onChange={(e) => setName(e.target.value)}
          />
        )}
      </td>
      <td>
        {there ? (
          <Link to={`/field?device=${there.id}`}>{there.name}</Link>
        ) : options.length > 0 ? (
          <Button variant="outlined" disabled={name.trim() === ''} onClick={add}>
            Add
          </Button>
        ) : (
          <Button variant="outlined" onClick={describe}>
            Make a map
          </Button>
        )}
      </td>
    </tr>
  );
}

/** What a device calls its product, or all that it says of itself, or where it was found. */
function nameFor({ identification, unit, port }: FoundDevice): string {
  const said = identification?.split(', ')[1] ?? identification;
  return said ? said.slice(0, 80) : `Unit ${unit} at port ${port}`;
}
