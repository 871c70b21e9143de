import type { Device } from '@loka/contract/devices';
import { isModbusKind, type Link as FieldLink } from '@loka/contract/links';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { useDevices, useLinks, useRegisterMaps } from '../api/useApi.js';
import { EmptyState, FailedState, LoadingState } from '../shared/states.js';
import { VirtualMeterList } from '../virtual/VirtualMeterList.js';
import { BatchDialog } from './BatchDialog.js';
import { CopySettingsDialog } from './CopySettingsDialog.js';
import { DeviceForm } from './DeviceForm.js';
import { DevicePanel } from './DevicePanel.js';
import { HealthMark, HealthWords } from './HealthMark.js';
import { LinkForm } from './LinkForm.js';
import { placeOf } from '../shared/linkKinds.js';
import { MapList } from './MapList.js';
import styles from './FieldPage.module.css';

type Open =
  | { form: 'link'; link?: FieldLink }
  | { form: 'device'; device?: Device; like?: Device; linkId?: number }
  | { form: 'batch'; like: Device }
  | { form: 'settings'; from: Device }
  | null;

/** Field: the links with their devices on the left, the points of the chosen device on the right. */
export default function FieldPage() {
  const { data: links, error, mutate } = useLinks();
  const { data: devices = [] } = useDevices();
  const { data: maps = [] } = useRegisterMaps();
  const [search, setSearch] = useSearchParams();
  const [open, setOpen] = useState<Open>(null);
  if (error && !links) return <FailedState error={error} retry={() => void mutate()} />;
  if (!links) return <LoadingState />;
  const chosen = devices.find((d) => d.id === Number(search.get('device'))) ?? devices[0];
  const add = search.get('add');
  const form: Open =
    open ??
    (add === 'link' ? { form: 'link' } : add === 'device' && links.length > 0 ? { form: 'device' } : null);
  const batchLink = form?.form === 'batch' ? links.find((l) => l.id === form.like.linkId) : undefined;
  const close = () => {
    setOpen(null);
    setSearch((s) => {
      s.delete('add');
      return s;
    });
  };
  const choose = (device: number) =>
    setSearch((s) => {
      s.set('device', String(device));
      return s;
    });
  return (
    <div className={styles.page} data-chosen={search.has('device')}>
      <section className={styles.list} aria-label="Links and devices">
        <div className={styles.title}>
          <h1>Links</h1>
          <Button component={Link} to="/field/plans">
            Floor plan
          </Button>
          <Button component={Link} to="/field/search">
            Find devices
          </Button>
          <Button variant="outlined" onClick={() => setOpen({ form: 'link' })}>
            Add a link
          </Button>
        </div>
        {links.length === 0 && (
          <EmptyState title="No link yet">
            A link is the address at which devices are reached: a meter’s own, or that of a gateway.
          </EmptyState>
        )}
        {links.map((link) => (
          <div key={link.id} className={styles.link}>
            <button
              type="button"
              className={styles.linkName}
              onClick={() => setOpen({ form: 'link', link })}
              title="Change this link"
            >
              <HealthMark state={link.health.state} />
              <strong>{link.name}</strong>
              <span className="measured muted">{placeOf(link)}</span>
            </button>
            {link.health.fault && <p className={styles.fault}>{link.health.fault}</p>}
            {devices
              .filter((d) => d.linkId === link.id)
              .map((device) => (
                <button
                  key={device.id}
                  type="button"
                  className={styles.device}
                  aria-current={device.id === chosen?.id}
                  onClick={() => choose(device.id)}
                >
                  <HealthMark state={link.enabled ? device.health.state : 'off'} />
                  <span>{device.name}</span>
                  {isModbusKind(link.kind) && <span className="muted">unit {device.unit}</span>}
                  <HealthWords health={device.health} />
                </button>
              ))}
            <Button onClick={() => setOpen({ form: 'device', linkId: link.id })}>Add a device</Button>
            {!isModbusKind(link.kind) && (
              <Button component={Link} to={`/field/topics/${link.id}`}>
                Watch topics
              </Button>
            )}
          </div>
        ))}
        <VirtualMeterList />
        <MapList maps={maps} devices={devices} />
      </section>
      <section className={styles.detail} aria-label="The chosen link or device">
        <div className={styles.back}>
          <Button
            onClick={() =>
              setSearch((s) => {
                s.delete('device');
                return s;
              })
            }
          >
            ‹ Links and devices
          </Button>
        </div>
        {chosen ? (
          <DevicePanel
            device={chosen}
            map={maps.find((m) => m.id === chosen.mapId)}
            onChange={() => setOpen({ form: 'device', device: chosen })}
            link={links.find((l) => l.id === chosen.linkId)}
            onCopy={() => setOpen({ form: 'device', like: chosen })}
            onBatch={() => setOpen({ form: 'batch', like: chosen })}
            onCopySettings={() => setOpen({ form: 'settings', from: chosen })}
          />
        ) : (
          links.length > 0 && (
            <EmptyState title="No device yet">
              Add the first device on a link: its unit id, and the register map of its kind.
            </EmptyState>
          )
        )}
      </section>
      {form?.form === 'link' && <LinkForm {...(form.link ? { link: form.link } : {})} onClose={close} />}
      {form?.form === 'batch' && batchLink && (
        <BatchDialog
          like={form.like}
          link={batchLink}
          firstUnit={nextUnit(devices, form.like)}
          onClose={close}
        />
      )}
      {form?.form === 'settings' && (
        <CopySettingsDialog from={form.from} devices={devices} maps={maps} onClose={close} />
      )}
      {form?.form === 'device' && (
        <DeviceForm
          {...(form.like ? { like: form.like, nextUnit: nextUnit(devices, form.like) } : {})}
          {...(form.device ? { device: form.device } : {})}
          {...(form.linkId ? { linkId: form.linkId } : {})}
          links={links}
          maps={maps}
          onClose={close}
          onMade={choose}
        />
      )}
    </div>
  );
}

/** The unit id that the next device of the same kind most likely has. */
const nextUnit = (devices: Device[], { linkId }: Device): number =>
  Math.min(255, 1 + Math.max(0, ...devices.filter((d) => d.linkId === linkId).map((d) => d.unit)));
