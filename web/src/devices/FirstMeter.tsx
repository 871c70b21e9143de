import { LinkInput } from '@loka/contract/links';
import type { InstallationNode } from '@loka/contract/installation';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { useLinks, useRegisterMaps } from '../api/useApi.js';
import { likelyMap } from '../points/proposedValues.js';
import { useUnsaved } from '../shared/unsaved.js';
import { useProblemForm } from '../shared/useProblemForm.js';
import styles from '../installation/FirstSteps.module.css';

/** The third question of the first-time path: what measures the supply. Once it is answered, a reading moves. */
export default function FirstMeter({ supply, onSkip }: { supply: InstallationNode; onSkip: () => void }) {
  const { data: maps = [] } = useRegisterMaps();
  const { data: links = [] } = useLinks();
  const [chosen, setChosen] = useState<number | null>(null);
  const withRegisters = maps.filter((m) => m.points.length > 0);
  const mapId = chosen ?? likelyMap(withRegisters, supply)?.id ?? 0;
  const form = useProblemForm(LinkInput, { ...new LinkInput(), name: 'Main meter' }, async (values) => {
    await api('/links/test', 'POST', values);
    const same = links.find(
      (l) => l.kind === 'modbus-tcp' && l.host === values.host && l.port === values.port,
    );
    const link = same ?? (await api<{ id: number }>('/links', 'POST', values));
    const device = await api<{ id: number }>('/devices', 'POST', {
      linkId: link.id,
      mapId,
      name: values.name,
      unit: 1,
    });
    await api(`/devices/${device.id}/assignment`, 'PUT', { nodeId: supply.id });
    await mutate(() => true);
  });
  useUnsaved(form.dirty && !form.busy ? 'the meter' : null);
  return (
    <div className={styles.sheet} style={{ margin: '4vh 0 0' }}>
      <form onSubmit={form.submit} noValidate>
        <p className={styles.count}>3 of 3</p>
        <h1>What measures the supply?</h1>
        <p className="muted">A meter that is reached over Modbus TCP, as unit 1. Others follow in Field.</p>
        <TextField label="Name" {...form.text('name')} />
        <TextField label="Host" autoFocus placeholder="192.168.1.40" {...form.text('host')} />
        <TextField label="Port" {...form.text('port', true)} />
        <TextField
          select
          label="Register map"
          value={mapId || ''}
          onChange={(e) => setChosen(Number(e.target.value))}
          helperText=" "
        >
          {withRegisters.map((map) => (
            <MenuItem key={map.id} value={map.id}>
              {map.name}
            </MenuItem>
          ))}
        </TextField>
        {form.problem && (
          <Alert severity="error" variant="outlined">
            {form.problem}
          </Alert>
        )}
        <div>
          <Button type="submit" variant="contained" disabled={form.busy}>
            Connect
          </Button>{' '}
          <Button onClick={onSkip}>Not yet</Button>
        </div>
      </form>
    </div>
  );
}
