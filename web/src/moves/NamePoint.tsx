import type { Point } from '@loka/contract/points';
import type { RegisterMap } from '@loka/contract/registers';
import { quantityInfo, type Quantity } from '@loka/core/quantities';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { mutate } from 'swr';
import { assignPoints } from '../points/assignPoints.js';
import { api } from '../api/client.js';
import { useDevices, useInstallation, useRegisterMaps } from '../api/useApi.js';
import { FormDialog } from '../shared/FormDialog.js';
import { useSubmit } from '../shared/useSubmit.js';
import { QuantityField } from '../points/QuantityFields.js';
import { nodeTitle } from '../shared/nodes.js';

/** Gives a numbered value its name and quantity, and its place, when it has been found out. */
export function NamePoint({
  point,
  step,
  load,
  onClose,
}: {
  point: Point;
  step: number;
  load: string;
  onClose: () => void;
}) {
  const { data: devices = [] } = useDevices();
  const { data: maps = [] } = useRegisterMaps();
  const { data: nodes = [] } = useInstallation();
  const { definition } = point;
  const numbered = definition.quantity === 'other';
  // Hundreds are watts, a few are amperes (trade); the person sees it and may change it.
  const [quantity, setQuantity] = useState<Quantity>(
    numbered ? (Math.abs(step) > 25 ? 'active-power' : 'current') : definition.quantity,
  );
  const [name, setName] = useState(
    numbered ? `${quantityInfo(quantity).label}${load ? `, ${load.toLowerCase()}` : ''}` : definition.name,
  );
  const [nodeId, setNodeId] = useState<number | null>(
    point.nodeId ?? nodes.find((n) => n.name === load)?.id ?? null,
  );
  const map = maps.find((m) => m.id === devices.find((d) => d.id === point.deviceId)?.mapId);
  const save = async (m: RegisterMap) => {
    const renamed = <T extends { key: string }>(list: T[]): T[] =>
      list.map((d) =>
        d.key === point.key ? { ...d, name, quantity, unit: quantityInfo(quantity).unit } : d,
      );
    const { name: mapName, description, availability, version } = m;
    await api(`/register-maps/${m.id}`, 'PUT', {
      name: mapName,
      description,
      availability,
      version,
      points: renamed(m.points),
      messages: renamed(m.messages),
    });
    await assignPoints([{ id: point.id, nodeId, phase: null }]);
    await mutate('/register-maps');
  };
  const { busy, dialog } = useSubmit(async () => {
    if (!map) return;
    await save(map);
    onClose();
  });
  return (
    <FormDialog
      title={`What ${definition.name} is`}
      verb="Name it"
      {...dialog}
      busy={busy || !map || name.trim() === ''}
      onClose={onClose}
    >
      <QuantityField value={quantity} onChange={setQuantity} />
      <TextField
        label="Name"
        autoFocus
        value={name}
        onChange={(e) => setName(e.target.value)}
        helperText=" "
      />
      <TextField
        select
        label="Belongs to"
        value={nodeId ?? ''}
        onChange={(e) => setNodeId(e.target.value === '' ? null : Number(e.target.value))}
        helperText=" "
      >
        <MenuItem value="">no circuit</MenuItem>
        {nodes.map((n) => (
          <MenuItem key={n.id} value={n.id}>
            {nodeTitle(n)}
          </MenuItem>
        ))}
      </TextField>
    </FormDialog>
  );
}
