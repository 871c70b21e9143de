import type { Device } from '@loka/contract/devices';
import type { Point } from '@loka/contract/points';
import type { SettingWritten } from '@loka/contract/settings';
import { isMessage } from '@loka/core/definitions';
import { printAge } from '@loka/core/formats';
import { isReadable } from '@loka/core/points';
import { holdOf } from '@loka/core/series';
import { movesReadings } from '@loka/core/settings';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { useDependents, usePoints } from '../api/useApi.js';
import { FormDialog } from '../shared/FormDialog.js';
import { useNotices } from '../shared/notices.js';
import { useSubmit } from '../shared/useSubmit.js';
import { settingInWords, type ToWrite } from './settingInWords.js';
import styles from './Settings.module.css';

/** Says what will be written into a device before it is, and what depends on its readings. */
export function WriteSettings({
  device,
  toWrite,
  onClose,
}: {
  device: Device;
  toWrite: readonly ToWrite[];
  onClose: () => void;
}) {
  const { say } = useNotices();
  const { data: dependents = [] } = useDependents(device.id);
  // A switch does as before, whatever its device reads.
  const acting = dependents.filter((d) => d.kind !== 'switch');
  const moving = toWrite.some(({ setting }) => movesReadings(setting.role));
  const { data: points = [] } = usePoints();
  const tooSlow = expectedFaster(
    points.filter((p) => p.deviceId === device.id),
    toWrite,
  );
  const { dialog } = useSubmit(async () => {
    const written = await writeSettings(device.id, toWrite);
    const failed = written.filter((w) => !w.done);
    if (failed.length > 0)
      throw new Error(failed.map((w) => `${nameOf(toWrite, w)}: ${w.message}`).join(' '));
    // Done, but there is something to add: that it could not be recorded, say.
    const noted = written.find((w) => w.message !== '')?.message ?? '';
    say(`${device.name}: ${count(toWrite.length)} written and read back. ${noted}`.trim(), () =>
      writeBack(device.id, toWrite),
    );
    onClose();
  });
  return (
    <FormDialog
      title={`Write into ${device.name}`}
      verb={`Write ${count(toWrite.length)}`}
      dirty={false}
      {...dialog}
      onClose={onClose}
    >
      <ul className={styles.changes}>
        {toWrite.map(({ setting, value, seen }) => (
          <li key={setting.pointId}>
            <strong>{setting.name}</strong>{' '}
            <span className="measured">
              {settingInWords(setting, seen)} → {settingInWords(setting, value)}
            </span>
          </li>
        ))}
      </ul>
      {tooSlow !== null && (
        <p className={styles.fault}>
          Its map expects values every {printAge(tooSlow)}, and reports the device as silent after{' '}
          {printAge(holdOf(tooSlow))}. Set the interval in the map first, or its readings show as missing.
        </p>
      )}
      {moving && (
        <p>
          This changes what the meter reads from then on. Earlier readings stay as they are, and its circuit
          has to be verified again.
        </p>
      )}
      {moving && acting.length > 0 && (
        <>
          <p>These watch its readings, and may act on the change:</p>
          <ul className={styles.changes}>
            {acting.map(({ kind, id, name }) => (
              <li key={`${kind} ${id}`}>
                {kind} <strong>{name}</strong>
              </li>
            ))}
          </ul>
        </>
      )}
    </FormDialog>
  );
}

/** How often values are expected, ms, where a device is to report so seldom that it counts as silent in between; else null. */
function expectedFaster(points: readonly Point[], toWrite: readonly ToWrite[]): number | null {
  const interval = toWrite.find(({ setting }) => setting.told && setting.role === 'report-interval');
  const reported = points.filter((p) => isMessage(p.definition) && isReadable(p.definition));
  if (!interval || reported.length === 0) return null;
  const expected = Math.min(...reported.map((p) => p.definition.intervalMs));
  return interval.value * 1000 > holdOf(expected) ? expected : null;
}

/** Writes settings into a device; each is read back. */
export async function writeSettings(
  deviceId: number,
  toWrite: readonly ToWrite[],
): Promise<SettingWritten[]> {
  try {
    return await api<SettingWritten[]>(`/settings/${deviceId}/write`, 'POST', {
      settings: toWrite.map(({ setting, value, seen }) => ({ pointId: setting.pointId, value, seen })),
    });
  } finally {
    await mutate(`/settings/${deviceId}`);
  }
}

/** Undoes it: what was there is wanted again, and written. */
export async function writeBack(deviceId: number, toWrite: readonly ToWrite[]): Promise<void> {
  await api(`/settings/${deviceId}/wanted`, 'PUT', {
    settings: toWrite.map(({ setting, seen }) => ({ pointId: setting.pointId, value: seen })),
  });
  const written = await writeSettings(
    deviceId,
    toWrite.map(({ setting, value, seen }) => ({ setting, value: seen, seen: value })),
  );
  const failed = written.filter((w) => !w.done);
  if (failed.length > 0) throw new Error(failed.map((w) => `${nameOf(toWrite, w)}: ${w.message}`).join(' '));
}

export const nameOf = (toWrite: readonly ToWrite[], { pointId }: SettingWritten): string =>
  toWrite.find((w) => w.setting.pointId === pointId)?.setting.name ?? '';

export const count = (n: number): string => (n === 1 ? '1 setting' : `${n} settings`);
