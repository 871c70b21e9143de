import type { Device } from '@loka/contract/devices';
import type { DeviceSetting, DeviceSettingsRead } from '@loka/contract/settings';
import { siteClock } from '@loka/core/time';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { useSettings } from '../api/useApi.js';
import { useNotices } from '../shared/notices.js';
import { usePeriod } from '../shared/period.js';
import { PlainTable } from '../shared/PlainTable.js';
import { CheckMark } from '../verify/CheckMark.js';
import { CopyToLike } from './CopyToLike.js';
import { settingInWords, stateOf, toWriteOf } from './settingInWords.js';
import { WantedCell } from './WantedCell.js';
import { WriteSettings } from './WriteSettings.js';
import styles from './Settings.module.css';

/** What is set inside a device, beside what is wanted; nothing where it has no settings. */
export function SettingsPanel({ device, devices }: { device: Device; devices: readonly Device[] }) {
  const { data } = useSettings(device.id);
  const { attempt } = useNotices();
  const { zone } = usePeriod();
  const [reading, setReading] = useState(false);
  const [open, setOpen] = useState<'write' | 'copy' | null>(null);
  if (!data || data.settings.length === 0) return null;
  const { settings } = data;
  const path = `/settings/${device.id}`;
  const like = devices.filter((d) => d.mapId === device.mapId && d.id !== device.id);
  const read = () => {
    setReading(true);
    void attempt(async () => {
      await mutate(path, await api<DeviceSettingsRead>(`${path}/read`, 'POST'), { revalidate: false });
    }).finally(() => setReading(false));
  };
  const want = (wanted: { pointId: number; value: number | null }[]) =>
    attempt(async () => {
      await mutate(path, await api<DeviceSettingsRead>(`${path}/wanted`, 'PUT', { settings: wanted }), {
        revalidate: false,
      });
    });
  const differing = toWriteOf(settings);
  const known = settings.filter((s) => s.read !== null);
  const notWanted = known.filter((s) => s.wanted === null);
  const fault = settings.find((s) => s.fault !== '')?.fault;
  return (
    <section className={styles.panel} aria-label="Settings in the device">
      <div className={styles.title}>
        <h2>Settings in the device</h2>
        <span className="muted">{readWhen(settings, zone)}</span>
        <span className={styles.space} />
        <Button variant="outlined" onClick={read} disabled={reading}>
          {reading ? 'Reading …' : 'Read now'}
        </Button>
        {notWanted.length > 0 && (
          <Button
            variant="outlined"
            onClick={() => void want(notWanted.map((s) => ({ pointId: s.pointId, value: s.read })))}
          >
            Use as wanted
          </Button>
        )}
        {like.length > 0 && known.length > 0 && (
          <Button variant="outlined" onClick={() => setOpen('copy')}>
            Copy to like devices …
          </Button>
        )}
        {differing.length > 0 && (
          <Button variant="contained" onClick={() => setOpen('write')}>
            Write {differing.length} …
          </Button>
        )}
      </div>
      {fault && (
        <p className={styles.fault} role="status">
          {fault}
        </p>
      )}
      <PlainTable head={['Setting', 'In the device', 'Wanted', 'Changed']}>
        {settings.map((setting) => (
          <tr key={setting.pointId}>
            <td>
              {setting.name}
              <StateWords setting={setting} />
            </td>
            <td className={setting.names.length > 0 ? '' : 'measured'}>
              {setting.read === null ? (
                <span className="muted">{setting.told ? 'not reported' : 'not read'}</span>
              ) : (
                settingInWords(setting, setting.read)
              )}
            </td>
            <td>
              <WantedCell setting={setting} onWant={(value) => want([{ pointId: setting.pointId, value }])} />
            </td>
            <td className="muted">
              <Changed setting={setting} data={data} />
            </td>
          </tr>
        ))}
      </PlainTable>
      {open === 'write' && (
        <WriteSettings device={device} toWrite={differing} onClose={() => setOpen(null)} />
      )}
      {open === 'copy' && (
        <CopyToLike device={device} settings={settings} like={like} onClose={() => setOpen(null)} />
      )}
    </section>
  );
}

function StateWords({ setting }: { setting: DeviceSetting }) {
  const state = stateOf(setting);
  if (state === 'differs')
    return (
      <span className={`${styles.state} danger`}>
        <CheckMark verdict="fail" size={14} /> not as wanted
      </span>
    );
  if (state === 'as-wanted')
    return (
      <span className={`${styles.state} ok`}>
        <CheckMark verdict="pass" size={14} /> as wanted
      </span>
    );
  return null;
}

/** When a setting was seen to change, and whether it was done with Loka. */
function Changed({ setting, data }: { setting: DeviceSetting; data: DeviceSettingsRead }) {
  const { zone } = usePeriod();
  const { changedAt, before, pointId } = setting;
  const last = data.changes.find((c) => c.pointId === pointId);
  if (changedAt === null || before === null) return null;
  const here = last !== undefined && Math.abs(last.at - changedAt) < 10_000;
  return (
    <>
      {at(zone, changedAt)}, from {settingInWords(setting, before)},{' '}
      {here ? `by ${last.who}` : 'not through Loka'}
    </>
  );
}

const at = (zone: string, t: number): string => siteClock(zone, t, 'd LLL HH:mm');

function readWhen(settings: readonly DeviceSetting[], zone: string): string {
  const times = settings.flatMap((s) => (s.readAt === null ? [] : [s.readAt]));
  if (times.length === 0) return settings.some((s) => s.told) ? 'not reported yet' : 'not read yet';
  // A device that reports by messages cannot be asked: it tells when it likes.
  return `${settings.some((s) => s.told) ? 'reported' : 'read'} ${at(zone, Math.min(...times))}`;
}
