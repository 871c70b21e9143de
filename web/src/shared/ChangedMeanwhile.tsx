import { printDuration } from '@loka/core/formats';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import { useEffect, useRef } from 'react';
import { useInstallation, useLinks, usePoints, useRegisterMaps, useSwitches } from '../api/useApi.js';
import { PlainTable } from './PlainTable.js';
import { pointTitle } from './nodes.js';

/** Something that two have changed: what one typed, what is there now, and either way out. */
export interface Conflict {
  rows: { field: string; mine: unknown; theirs: unknown }[];
  keepMine: () => void;
  takeTheirs: () => void;
}

/** Fields under the names that their forms give them. */
const LABELS: Record<string, string> = {
  name: 'Name',
  limit: 'Limit',
  deadband: 'Deadband',
  direction: 'When',
  delayMs: 'Delay',
  onDelayMs: 'Delay on',
  offDelayMs: 'Delay off',
  ignoreAfterOnMs: 'Ignoring the first',
  blindAfterMs: 'Blind after',
  openWhenBlind: 'Opens when blind',
  enabled: 'In use',
  pointId: 'Reading',
  switchId: 'Switch',
  commandPointId: 'Command',
  statePointId: 'State',
  nodeId: 'Place',
  linkId: 'Link',
  mapId: 'Map',
  unit: 'Unit id',
  topic: 'Base topic',
  host: 'Host',
  port: 'Port',
  timeoutMs: 'Time-out',
  way: 'Way',
  phases: 'Conductors',
  protectiveDevice: 'Protective device',
  ratedCurrent: 'Rated current, A',
  formula: 'Formula',
  inputs: 'Inputs',
  intervalMs: 'Every',
  quantity: 'Quantity',
  timeZone: 'Time zone',
  nominalVoltage: 'Nominal voltage, V',
  supplySystem: 'Lines of the supply',
  frequency: 'Frequency, Hz',
};

/** Lays what one typed beside what somebody else has saved meanwhile, and lets one choose. */
export function ChangedMeanwhile({ rows, keepMine, takeTheirs }: Conflict) {
  const show = useShown();
  const box = useRef<HTMLDivElement>(null);
  // The form may be scrolled to its verb, and this stands above its fields.
  useEffect(() => box.current?.scrollIntoView({ block: 'nearest' }), []);
  return (
    <Alert ref={box} severity="warning" variant="outlined" sx={{ '& .MuiAlert-message': { width: '100%' } }}>
      <p style={{ margin: 0 }}>Someone else has changed this since you opened it. Nothing was overwritten.</p>
      {rows.length > 0 && (
        <PlainTable head={['', 'Yours', 'There now']}>
          {rows.map(({ field, mine, theirs }) => (
            <tr key={field}>
              <td>{LABELS[field] ?? field}</td>
              <td className="measured">{show(field, mine)}</td>
              <td className="measured">{show(field, theirs)}</td>
            </tr>
          ))}
        </PlainTable>
      )}
      <Button onClick={takeTheirs}>Take what is there</Button>
      <Button onClick={keepMine}>Save mine over it</Button>
    </Alert>
  );
}

/** A field's value in words; what refers to something else is shown by its name. */
function useShown(): (field: string, value: unknown) => string {
  const { data: points } = usePoints();
  const { data: nodes } = useInstallation();
  const { data: switches } = useSwitches();
  const { data: maps } = useRegisterMaps();
  const { data: links } = useLinks();
  const nameIn = (list: { id: number; name: string }[] | undefined, id: unknown) =>
    list?.find((one) => one.id === id)?.name ?? String(id);
  return (field, value) => {
    if (value === null || value === undefined || value === '') return '–';
    if (typeof value === 'boolean') return value ? 'yes' : 'no';
    if (field.endsWith('Ms') && typeof value === 'number') return printDuration(value);
    if (Array.isArray(value)) return value.map((v: { name?: string }) => v.name ?? String(v)).join(', ');
    if (field.toLowerCase().endsWith('pointid')) {
      const point = points?.find((p) => p.id === value);
      return point ? pointTitle(point) : String(value);
    }
    if (field === 'nodeId') return nameIn(nodes, value);
    if (field === 'switchId') return nameIn(switches, value);
    if (field === 'mapId') return nameIn(maps, value);
    if (field === 'linkId') return nameIn(links, value);
    return typeof value === 'object' ? JSON.stringify(value) : String(value as string | number);
  };
}
