import { FirstMeterInput } from '@loka/contract/links';
import type { InstallationNode } from '@loka/contract/installation';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { useLinks, useRegisterMaps } from '../api/useApi.js';
import { useNotices } from '../shared/notices.js';
import { useUnsaved } from '../shared/unsaved.js';
import { useProblemForm } from '../shared/useProblemForm.js';
import { bestMap, FIND_OUT, makeDevice, makeMap, NEW_MAP, recognise } from './mapChoice.js';
import styles from '../installation/FirstSteps.module.css';

/** The third question of the first-time path: what measures the supply. Once it is answered, a reading moves. */
export default function FirstMeter({ supply, onSkip }: { supply: InstallationNode; onSkip: () => void }) {
  const { data: maps = [] } = useRegisterMaps();
  const { data: links = [] } = useLinks();
  const [mapId, setMapId] = useState(FIND_OUT);
  const navigate = useNavigate();
  const { say } = useNotices();
  const withRegisters = maps.filter((m) => m.points.length > 0);
  const form = useProblemForm(
    FirstMeterInput,
    { ...new FirstMeterInput(), name: 'Main meter' },
    async ({ unit, ...link }) => {
      await api('/links/test', 'POST', link);
      const { name, host, port } = link;
      // Also with a map that was chosen: what has never answered is not taken for a meter.
      const found = await recognise({ host, port, unit });
      const best = mapId === FIND_OUT ? bestMap(found) : null;
      const chosen = best ? best.mapId : mapId === NEW_MAP ? await makeMap(name) : mapId;
      const same = links.find((l) => l.kind === 'modbus-tcp' && l.host === host && l.port === port);
      const { id: linkId } = same ?? (await api<{ id: number }>('/links', 'POST', link));
      const id = await makeDevice(chosen, { linkId, unit, name });
      await api(`/devices/${id}/assignment`, 'PUT', { nodeId: supply.id });
      await mutate(() => true);
      if (best) say(`Recognised: ${best.words}.`);
      if (mapId === NEW_MAP) void navigate(`/field/map/${chosen}?device=${id}`);
    },
  );
  useUnsaved(form.dirty && !form.busy ? 'the meter' : null);
  return (
    <div className={styles.sheet} style={{ margin: '4vh 0 0' }}>
      <form onSubmit={form.submit} noValidate>
        <p className={styles.count}>3 of 3</p>
        <h1>What measures the supply?</h1>
        <p className="muted">
          A meter that is reached over Modbus TCP. If you do not know its address,{' '}
          <Link to="/field/search">search for it</Link>; meters of other kinds are added in{' '}
          <Link to="/field">Field</Link>.
        </p>
        <TextField label="Name" {...form.text('name')} />
        <TextField label="Host" autoFocus placeholder="192.168.1.40" {...form.text('host')} />
        <div className={styles.pair}>
          <TextField label="Port" inputMode="numeric" {...form.text('port', true)} />
          <TextField label="Unit id" inputMode="numeric" {...form.text('unit', true)} />
        </div>
        <TextField
          select
          label="Register map"
          value={mapId}
          onChange={(e) => setMapId(Number(e.target.value))}
          helperText={mapId === FIND_OUT ? 'Each map is tried on what the meter answers.' : ' '}
        >
          <MenuItem value={FIND_OUT}>Recognise it</MenuItem>
          {withRegisters.map((map) => (
            <MenuItem key={map.id} value={map.id}>
              {map.name}
            </MenuItem>
          ))}
          <MenuItem value={NEW_MAP}>Make a new map</MenuItem>
        </TextField>
        {form.problem && (
          <Alert severity="error" variant="outlined">
            {form.problem}
          </Alert>
        )}
        <div>
          <Button type="submit" variant="contained" disabled={form.busy}>
            {form.busy ? 'Asking it …' : 'Connect'}
          </Button>{' '}
          <Button onClick={onSkip}>Not yet</Button>
        </div>
      </form>
    </div>
  );
}
