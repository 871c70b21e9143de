import type { Device } from '@loka/contract/devices';
import type { DeviceSetting, DeviceSettingsRead } from '@loka/contract/settings';
import { useRef, useState } from 'react';
import { api, inWords } from '../api/client.js';
import { FormDialog } from '../shared/FormDialog.js';
import { useNotices } from '../shared/notices.js';
import { TickList } from '../shared/TickList.js';
import { useSubmit } from '../shared/useSubmit.js';
import { isOfOneDevice } from '@loka/core/settings';
import { exact, settingInWords, toWriteOf, type ToWrite } from './settingInWords.js';
import { count, nameOf, writeBack, writeSettings } from './WriteSettings.js';
import styles from './Settings.module.css';

/** Has like devices set as one is: they are read first, so that what will be written is said before it is. */
export function CopyToLike({
  device,
  settings,
  like,
  onClose,
}: {
  device: Device;
  settings: readonly DeviceSetting[];
  like: readonly Device[];
  onClose: () => void;
}) {
  const { say } = useNotices();
  /** What is copied: as it is wanted or, where nothing is, as it is there. What corrects one device is not another's. */
  const [keys, setKeys] = useState<string[]>(
    settings.filter((s) => s.writable && valueOf(s) !== null && !isOfOneDevice(s.role)).map((s) => s.key),
  );
  const [chosen, setChosen] = useState<number[]>([]);
  const [progress, setProgress] = useState<Record<number, string>>({});
  const stopped = useRef(false);
  const note = (id: number, text: string) => setProgress((before) => ({ ...before, [id]: text }));
  const { busy, dialog } = useSubmit(async () => {
    stopped.current = false;
    const failed: string[] = [];
    const done: { deviceId: number; toWrite: ToWrite[] }[] = [];
    for (const other of like.filter((d) => chosen.includes(d.id))) {
      if (stopped.current) {
        failed.push(`${other.name}: not tried.`);
        continue;
      }
      try {
        note(other.id, 'reading …');
        await api(`/settings/${other.id}/read`, 'POST');
        const now = await wantLike(
          other.id,
          settings.filter((s) => keys.includes(s.key)),
        );
        // What else is pending there is for whoever has wanted it.
        const toWrite = toWriteOf(now.settings.filter((s) => keys.includes(s.key)));
        note(other.id, `writing ${count(toWrite.length)} …`);
        const results = toWrite.length === 0 ? [] : await writeSettings(other.id, toWrite);
        const bad = results.filter((w) => !w.done);
        const unread = now.settings.filter((s) => keys.includes(s.key) && s.read === null);
        const kept = toWrite.filter((w) => results.some((r) => r.done && r.pointId === w.setting.pointId));
        if (kept.length > 0) done.push({ deviceId: other.id, toWrite: kept });
        if (bad.length > 0 || unread.length > 0) {
          const why =
            [...bad.map((w) => `${nameOf(toWrite, w)}: ${w.message}`), ...unread.map((s) => s.fault)][0] ??
            '';
          failed.push(`${other.name}: ${why}`);
          note(other.id, 'not done');
        } else
          note(
            other.id,
            toWrite.length === 0 ? 'was so already' : `${count(toWrite.length)} written and read back`,
          );
      } catch (error) {
        failed.push(`${other.name}: ${inWords(error)}`);
        note(other.id, 'not done');
      }
    }
    if (failed.length > 0) throw new Error(failed.join(' '));
    const written = done.reduce((sum, d) => sum + d.toWrite.length, 0);
    say(
      `${chosen.length} device${chosen.length === 1 ? '' : 's'} set as ${device.name}: ${count(written)} written.`,
      async () => {
        for (const { deviceId, toWrite } of done) await writeBack(deviceId, toWrite);
      },
    );
    onClose();
  });
  return (
    <FormDialog
      title={`Set others as ${device.name}`}
      verb={busy ? 'Writing …' : chosen.length === 0 ? 'Choose devices' : `Write into ${chosen.length}`}
      {...dialog}
      busy={busy || chosen.length === 0 || keys.length === 0}
      dirty={false}
      onClose={() => {
        // What is under way on one device is finished; the others are left alone.
        if (busy) stopped.current = true;
        else onClose();
      }}
    >
      <p className="muted">
        Each device is read first; only what differs is written, and read back. What they read changes with a
        ratio or a gain.
      </p>
      <fieldset className={styles.choices}>
        <legend>Settings</legend>
        <TickList
          className={styles.ticks}
          items={settings
            .filter((s) => s.writable && valueOf(s) !== null)
            .map((s) => ({
              id: s.key,
              label: (
                <>
                  {s.name} <span className="measured muted">{settingInWords(s, valueOf(s) as number)}</span>
                </>
              ),
            }))}
          chosen={keys}
          onChange={setKeys}
        />
      </fieldset>
      <fieldset className={styles.choices}>
        <legend>Devices with the same map</legend>
        <TickList
          className={styles.ticks}
          items={like.map((d) => ({
            id: d.id,
            label: (
              <>
                {d.name} <span className="muted">{progress[d.id]}</span>
              </>
            ),
          }))}
          chosen={chosen}
          onChange={setChosen}
        />
      </fieldset>
    </FormDialog>
  );
}

const valueOf = ({ wanted, read }: DeviceSetting): number | null => wanted ?? read;

/** Says of a like device that it is wanted as this one is. */
async function wantLike(deviceId: number, from: readonly DeviceSetting[]): Promise<DeviceSettingsRead> {
  const own = await api<DeviceSettingsRead>(`/settings/${deviceId}`);
  const settings = own.settings.flatMap(({ key, pointId }) => {
    const like = from.find((s) => s.key === key);
    const value = like ? valueOf(like) : null;
    return value === null ? [] : [{ pointId, value: Number(exact(value)) }];
  });
  return api<DeviceSettingsRead>(`/settings/${deviceId}/wanted`, 'PUT', { settings });
}
