import { NewDevice, type Device } from '@loka/contract/devices';
import { hasAddresses, isModbusKind, type Link } from '@loka/contract/links';
import type { RegisterMap } from '@loka/contract/registers';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { useFormerDevices } from '../api/useApi.js';
import { siteClock } from '@loka/core/time';
import { usePeriod } from '../shared/period.js';
import { Choice } from '../shared/Choice.js';
import { FormDialog } from '../shared/FormDialog.js';
import { useNotices } from '../shared/notices.js';
import { useProblemForm } from '../shared/useProblemForm.js';
import { addressOf } from './batch.js';
import { bestMap, BY_SUNSPEC, FIND_OUT, makeMap, NEW_MAP, recognise } from './mapChoice.js';
import { placeOf } from '../shared/linkKinds.js';

/** Stands for a link to another address, set up like that of the device to begin like. */
const ELSEWHERE = 0;

/** A device on a link: its unit id, and the register map of its kind or a new one. */
export function DeviceForm({
  device,
  like,
  nextUnit = like?.unit ?? 1,
  linkId,
  links,
  maps,
  onClose,
  onMade,
}: {
  device?: Device;
  /** One to begin like: the same map, on its link or at another address. */
  like?: Device;
  /** On the link of `like`. */
  nextUnit?: number;
  linkId?: number;
  links: Link[];
  maps: RegisterMap[];
  onClose: () => void;
  onMade: (id: number) => void;
}) {
  const navigate = useNavigate();
  const { say } = useNotices();
  const startLink = links.find((l) => l.id === (device?.linkId ?? like?.linkId ?? linkId)) ?? links[0];
  const canAsk = (link: Link | undefined) => link !== undefined && isModbusKind(link.kind);
  const { data: former = [] } = useFormerDevices();
  const { zone } = usePeriod();
  const [address, setAddress] = useState(startLink ? `${startLink.host}:${startLink.port}` : '');
  const again = (mapId: number) => (device ? [] : former.filter((f) => f.mapId === Number(mapId)));
  const form = useProblemForm(
    NewDevice,
    device
      ? {
          linkId: device.linkId,
          mapId: device.mapId,
          name: device.name,
          unit: device.unit,
          topic: device.topic,
        }
      : like
        ? {
            linkId: like.linkId,
            mapId: like.mapId,
            name: `${like.name} ${nextUnit}`,
            unit: nextUnit,
            topic: like.topic,
            goesOnFrom: null,
          }
        : {
            linkId: linkId ?? links[0]?.id ?? 0,
            mapId: canAsk(startLink) ? FIND_OUT : NEW_MAP,
            name: '',
            unit: 1,
            topic: '',
            goesOnFrom: null,
          },
    async (values) => {
      const { unit, name } = values;
      const found =
        Number(values.mapId) === FIND_OUT
          ? bestMap(await recognise({ linkId: Number(values.linkId), unit }))
          : { mapId: Number(values.mapId), words: '' };
      if (found.mapId === BY_SUNSPEC) {
        const made = await api<{ id: number; words: string }>('/devices/sunspec', 'POST', {
          linkId: values.linkId,
          unit,
          name,
        });
        await Promise.all([mutate('/devices'), mutate('/points'), mutate('/register-maps')]);
        say(`Recognised: ${made.words}.`);
        onClose();
        return onMade(made.id);
      }
      const isNew = found.mapId === NEW_MAP;
      const mapId = isNew ? await makeMap(name) : found.mapId;
      const place = addressOf(address);
      if (Number(values.linkId) === ELSEWHERE && !place)
        throw new Error('Enter the address, for example 192.168.1.41 or 192.168.1.41:502.');
      // One that was chosen for another map has gone with it.
      const goesOn = again(mapId).some((f) => f.id === values.goesOnFrom) ? values.goesOnFrom : null;
      const on =
        Number(values.linkId) === ELSEWHERE
          ? (await api<{ id: number }>(`/links/${startLink?.id}/another`, 'POST', place)).id
          : values.linkId;
      const { id } = await api<{ id: number }>(
        device ? `/devices/${device.id}` : '/devices',
        device ? 'PUT' : 'POST',
        { ...values, linkId: on, mapId, ...(goesOn ? { goesOnFrom: goesOn } : {}) },
      );
      await Promise.all(['/links', '/devices', '/points', '/register-maps'].map((key) => mutate(key)));
      onClose();
      if (found.words) say(`Recognised: ${found.words}.`);
      if (isNew) void navigate(`/field/map/${mapId}?device=${id}`);
      else onMade(id);
    },
    device?.version,
  );
  const same = again(form.watch('mapId'));
  const elsewhere = Number(form.watch('linkId')) === ELSEWHERE;
  const link = elsewhere ? startLink : links.find((l) => l.id === Number(form.watch('linkId')));
  const byUnit = !link || isModbusKind(link.kind);
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
        onChange={(e) => {
          // A device at an address of its own has the unit id of its kind, not the next one on a line.
          if (like && Number(e.target.value) === ELSEWHERE) form.setValue('unit', like.unit);
        }}
        options={[
          ...links.map((l) => ({ value: l.id, label: `${l.name}, ${placeOf(l)}` })),
          ...(like && startLink && hasAddresses(startLink.kind)
            ? [{ value: ELSEWHERE, label: `Another address, set up like ${startLink.name}` }]
            : []),
        ]}
      />
      {elsewhere && (
        <TextField
          label="Address"
          placeholder="192.168.1.41"
          value={address}
          onChange={(e) => setAddress(e.target.value)}
          error={addressOf(address) === null}
          helperText={addressOf(address) === null ? 'Like 192.168.1.41 or 192.168.1.41:502' : ' '}
        />
      )}
      {byUnit ? (
        <TextField label="Unit id" inputMode="numeric" {...form.text('unit', true)} />
      ) : (
        <TextField
          label="Base topic"
          placeholder="bakery/plug-1"
          {...form.text('topic')}
          helperText={form.formState.errors.topic?.message ?? 'Stands for {device} in the topics of the map'}
        />
      )}
      <Choice
        control={form.control}
        name="mapId"
        label={byUnit ? 'Register map' : 'Map of messages'}
        options={[
          ...(canAsk(link) && !elsewhere && !like
            ? [{ value: FIND_OUT, label: 'Recognise it: try each map on what it answers' }]
            : []),
          ...maps.filter((m) => !link || fits(m, link)).map((m) => ({ value: m.id, label: m.name })),
          { value: NEW_MAP, label: 'Make a new map' },
          ...(device || !byUnit ? [] : [{ value: BY_SUNSPEC, label: 'Detect automatically (SunSpec)' }]),
        ]}
      />
      {same.length > 0 && (
        <Choice
          control={form.control}
          name="goesOnFrom"
          label="Its history"
          helperText="The same unit, fitted again, continues its earlier readings."
          options={[
            { value: null, label: 'Begins now' },
            ...same.map((f) => ({
              value: f.id,
              label: `Goes on from ${f.name}, removed ${siteClock(zone, f.removedAt, 'd LLL HH:mm')}`,
            })),
          ]}
        />
      )}
    </FormDialog>
  );
}

/** Whether a map describes what comes over a link: registers, or messages. An empty one fits either. */
const fits = (map: RegisterMap, link: Link): boolean =>
  isModbusKind(link.kind) ? map.messages.length === 0 : map.points.length === 0;
