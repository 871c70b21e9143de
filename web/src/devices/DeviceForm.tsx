import { DeviceInput, type Device, type Link } from '@loka/contract/devices';
import type { RegisterMap } from '@loka/contract/registers';
import TextField from '@mui/material/TextField';
import { useNavigate } from 'react-router';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { Choice } from '../shared/Choice.js';
import { FormDialog } from '../shared/FormDialog.js';
import { useProblemForm } from '../shared/useProblemForm.js';

/** Stands for a map that is made on the spot. */
const NEW_MAP = 0;

/** A device on a link: its unit id, and the register map of its kind or a new one. */
export function DeviceForm({
  device,
  like,
  linkId,
  links,
  maps,
  onClose,
  onMade,
}: {
  device?: Device;
  /** One to begin like: the same link and map, the given unit id. */
  like?: Device;
  linkId?: number;
  links: Link[];
  maps: RegisterMap[];
  onClose: () => void;
  onMade: (id: number) => void;
}) {
  const navigate = useNavigate();
  const form = useProblemForm(
    DeviceInput,
    device
      ? { linkId: device.linkId, mapId: device.mapId, name: device.name, unit: device.unit }
      : like
        ? { linkId: like.linkId, mapId: like.mapId, name: `${like.name} ${like.unit}`, unit: like.unit }
        : {
            linkId: linkId ?? links[0]?.id ?? 0,
            ...(maps[0] ? { mapId: maps[0].id } : {}),
            name: '',
            unit: 1,
          },
    async (values) => {
      const isNew = values.mapId === NEW_MAP;
      const mapId = isNew
        ? (
            await api<{ id: number }>('/register-maps', 'POST', {
              name: `${values.name}, map`,
              description: '',
              points: [],
            })
          ).id
        : values.mapId;
      const { id } = await api<{ id: number }>(
        device ? `/devices/${device.id}` : '/devices',
        device ? 'PUT' : 'POST',
        { ...values, mapId },
      );
      await Promise.all([mutate('/devices'), mutate('/points'), mutate('/register-maps')]);
      onClose();
      if (isNew) void navigate(`/field/map/${mapId}?device=${id}`);
      else onMade(id);
    },
  );
  return (
    <FormDialog
      title={device ? device.name : like ? `Another like ${like.name}` : 'A new device'}
      verb={device ? 'Save' : 'Add device'}
      {...form.dialog}
      onClose={onClose}
    >
      <TextField label="Name" autoFocus placeholder="For example Main meter" {...form.text('name')} />
      <Choice
        control={form.control}
        name="linkId"
        label="Link"
        options={links.map((l) => ({ value: l.id, label: `${l.name}, ${l.host}:${l.port}` }))}
      />
      <TextField label="Unit id" inputMode="numeric" {...form.text('unit', true)} />
      <Choice
        control={form.control}
        name="mapId"
        label="Register map"
        options={[
          ...maps.map((m) => ({ value: m.id, label: m.name })),
          ...(device ? [] : [{ value: NEW_MAP, label: 'Make a new map' }]),
        ]}
      />
    </FormDialog>
  );
}
