import type { Device, DeviceSettings } from '@loka/contract/devices';
import { isModbusKind } from '@loka/contract/links';
import type { RegisterMap } from '@loka/contract/registers';
import { useState } from 'react';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { useLinks } from '../api/useApi.js';
import { FormDialog } from '../shared/FormDialog.js';
import { TickList } from '../shared/TickList.js';
import { useSubmit } from '../shared/useSubmit.js';
import { useNotices } from '../shared/notices.js';
import styles from './DevicePanel.module.css';

/** Has other devices take over the map of one, and on which conductors its values are. */
export function CopySettingsDialog({
  from,
  devices,
  maps,
  onClose,
}: {
  from: Device;
  devices: Device[];
  maps: RegisterMap[];
  onClose: () => void;
}) {
  const [chosen, setChosen] = useState<number[]>([]);
  const { say } = useNotices();
  const mapOf = (d: Device) => maps.find((m) => m.id === d.mapId)?.name ?? '';
  const { data: links = [] } = useLinks();
  const byRegisters = (d: Device) => isModbusKind(links.find((l) => l.id === d.linkId)?.kind ?? 'modbus-tcp');
  // A map of registers is of no use to a device that sends messages, nor the other way round.
  const others = devices.filter((d) => d.id !== from.id && byRegisters(d) === byRegisters(from));
  const { busy, dialog } = useSubmit(async () => {
    const before = await api<DeviceSettings>(`/devices/${from.id}/copy-settings`, 'POST', {
      deviceIds: chosen,
    });
    await Promise.all([mutate('/devices'), mutate('/points'), mutate('/register-maps')]);
    say(
      `${chosen.length} device${chosen.length === 1 ? ' has' : 's have'} taken over the map of ${from.name}.`,
      () => api('/devices/settings', 'PUT', before),
    );
    onClose();
  });
  return (
    <FormDialog
      title={`Copy the map of ${from.name}`}
      verb={chosen.length === 0 ? 'Choose devices' : `Copy to ${chosen.length}`}
      {...dialog}
      busy={busy || chosen.length === 0}
      onClose={onClose}
    >
      <p className="muted">
        These devices take over its map, “{mapOf(from)}”, and on which conductors its values are. Values that
        the new map does not have are archived; their readings stay.
      </p>
      {others.length === 0 && <p>No other device could read with it.</p>}
      <TickList
        className={styles.choices}
        items={others.map((d) => ({
          id: d.id,
          label: (
            <>
              {d.name} <span className="muted">{mapOf(d)}</span>
            </>
          ),
        }))}
        chosen={chosen}
        onChange={setChosen}
      />
    </FormDialog>
  );
}
