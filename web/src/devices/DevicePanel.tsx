import type { Dependent } from '@loka/contract/dependents';
import type { Device } from '@loka/contract/devices';
import { isModbusKind, type Link as FieldLink } from '@loka/contract/links';
import type { Point } from '@loka/contract/points';
import type { RegisterMap } from '@loka/contract/registers';
import { PHASES, type Phase } from '@loka/core/quantities';
import { topicFor } from '@loka/core/messages';
import { isSetting, isWritable } from '@loka/core/points';
import { isMessage, isRegister, type AnyDefinition } from '@loka/core/definitions';
import { hexBytes, readRequestBytes, readSpanOf, wordsFor, writeRequestBytes } from '@loka/core/registers';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { Link } from 'react-router';
import { mutate } from 'swr';
import { Confirm } from '../shared/Confirm.js';
import { PlainTable } from '../shared/PlainTable.js';
import { api } from '../api/client.js';
import { useDevices, useInstallation, usePoints } from '../api/useApi.js';
import { assignPoints, placeOfPoint } from '../points/assignPoints.js';
import { useNotices } from '../shared/notices.js';
import { nodeTitle } from '../shared/nodes.js';
import { Reading } from '../shared/Reading.js';
import { RestsOnIt } from '../shared/RestsOnIt.js';
import { EmptyState } from '../shared/states.js';
import { SettingsPanel } from '../settings/SettingsPanel.js';
import { Command } from './Command.js';
import { HealthTable } from './HealthTable.js';
import styles from './DevicePanel.module.css';

/** A device with its points: what each reads now, and where in the installation it belongs. */
export function DevicePanel({
  device,
  map,
  link,
  onChange,
  onCopy,
  onBatch,
  onCopySettings,
}: {
  device: Device;
  map: RegisterMap | undefined;
  link: FieldLink | undefined;
  onChange: () => void;
  onCopy: () => void;
  onBatch: () => void;
  onCopySettings: () => void;
}) {
  const { data: points = [] } = usePoints();
  const { attempt, say } = useNotices();
  const { data: devices = [] } = useDevices();
  const all = points.filter((p) => p.deviceId === device.id);
  const own = all.filter((p) => !isSetting(p.definition));
  const byMessages = link !== undefined && !isModbusKind(link.kind);
  const editor =
    map && byMessages
      ? `/field/messages/${map.id}?device=${device.id}`
      : `/field/map/${device.mapId}?device=${device.id}`;
  /** What depends on the device, while somebody is asked whether it goes anyway. */
  const [resting, setResting] = useState<Dependent[] | null>(null);
  const ask = () =>
    void attempt(async () => {
      const found = await api<Dependent[]>(`/devices/${device.id}/dependents`);
      if (found.length > 0) setResting(found);
      else remove();
    });
  const remove = () =>
    void attempt(async () => {
      await api(`/devices/${device.id}?anyway=true`, 'DELETE');
      await Promise.all([mutate('/devices'), mutate('/points')]);
      say(`${device.name} was removed. Its readings stay.`, () =>
        api(`/devices/${device.id}/restore`, 'POST'),
      );
    });
  return (
    <div>
      <div className={styles.title}>
        <div>
          <h1>{device.name}</h1>
          <p className="muted">
            {byMessages ? device.topic || 'no base topic' : `Unit ${device.unit}`}, {map?.name ?? 'no map'}
          </p>
        </div>
        <span className={styles.space} />
        <Button variant="outlined" component={Link} to={editor}>
          Edit points
        </Button>
        <Button variant="outlined" onClick={onChange}>
          Change
        </Button>
        <Button variant="outlined" onClick={onCopy}>
          Copy
        </Button>
        <Button variant="outlined" onClick={onBatch}>
          Add several like it
        </Button>
        <Button variant="outlined" onClick={onCopySettings}>
          Copy map to …
        </Button>
        <Button variant="outlined" component={Link} to={`/field/moves?devices=${device.id}`}>
          Which one moves?
        </Button>
        <Button variant="outlined" color="error" onClick={ask}>
          Remove
        </Button>
      </div>
      {resting && (
        <Confirm
          title={`Remove “${device.name}”?`}
          verb={`Remove ${device.name}`}
          danger
          onConfirm={remove}
          onClose={() => setResting(null)}
        >
          <RestsOnIt dependents={resting} />
        </Confirm>
      )}
      {device.health.fault && (
        <p className={styles.fault} role="status">
          {device.health.fault}
        </p>
      )}
      {all.length === 0 ? (
        <EmptyState
          title="No points yet"
          action={
            <Button variant="contained" component={Link} to={editor}>
              Edit points
            </Button>
          }
        >
          Describe the registers of this device: each one gives a point.
        </EmptyState>
      ) : (
        <>
          <HealthTable health={device.health} />
          <AssignAll points={own} />
          <div className={styles.points}>
            <PlainTable head={['Point', 'On the wire', 'Reads#', 'Belongs to', 'Conductor']}>
              {own.map((point) => (
                <PointRow key={point.id} point={point} topic={device.topic} />
              ))}
            </PlainTable>
          </div>
          <SettingsPanel device={device} devices={devices} />
        </>
      )}
    </div>
  );
}

function PointRow({ point, topic }: { point: Point; topic: string }) {
  const { data: nodes = [] } = useInstallation();
  const { attempt } = useNotices();
  const assign = (nodeId: number | null, phase: Phase | null) =>
    void attempt(() => assignPoints([{ id: point.id, nodeId, phase }]));
  // What the map says of the conductor holds unless the assignment says otherwise.
  const own = placeOfPoint(point).phase;
  return (
    <tr>
      <td>{point.definition.name}</td>
      <td className="measured muted">
        {isMessage(point.definition)
          ? `${shortTopic(point.definition.topic, topic)} ${point.definition.pointer}`
          : onTheWire(point.definition)}
      </td>
      <td className="number">
        {point.definition.access !== 'write' && <Reading point={point} />}{' '}
        {isWritable(point.definition) && <Command point={point} />}
      </td>
      <td>
        <select
          className={styles.select}
          aria-label={`${point.definition.name} belongs to`}
          value={point.nodeId ?? ''}
          onChange={(e) => assign(e.target.value === '' ? null : Number(e.target.value), own)}
        >
          <option value="">no circuit</option>
          {nodes.map((n) => (
            <option key={n.id} value={n.id}>
              {nodeTitle(n)}
            </option>
          ))}
        </select>
      </td>
      <td>
        <select
          className={styles.select}
          aria-label={`Conductor of ${point.definition.name}`}
          value={point.phase ?? ''}
          onChange={(e) => assign(point.nodeId, e.target.value === '' ? null : (e.target.value as Phase))}
        >
          <option value="">–</option>
          {PHASES.map((p) => (
            <option key={p}>{p}</option>
          ))}
        </select>
      </td>
    </tr>
  );
}

/** A topic, of which the base stands in the head of the page. */
const shortTopic = (template: string, base: string): string => {
  const topic = topicFor(template, base);
  return base !== '' && topic.startsWith(`${base}/`) ? `…${topic.slice(base.length)}` : topic;
};

/** The request that reads a value or, of a command that always sends the same, the one that writes it. */
function onTheWire(definition: AnyDefinition): string {
  const span = isRegister(definition) ? readSpanOf(definition) : null;
  if (!isRegister(definition) || !span) return '–';
  const { access, send, kind } = definition;
  if (access === 'write' && send !== undefined && (kind === 'coil' || kind === 'holding'))
    return hexBytes(writeRequestBytes(kind, span.start, wordsFor(definition, send)));
  return hexBytes(readRequestBytes(span));
}

/** Gives all points of a device to one place at once: the usual case for a meter. */
function AssignAll({ points }: { points: Point[] }) {
  const { data: nodes = [] } = useInstallation();
  const { attempt, say } = useNotices();
  const assign = (nodeId: number) =>
    void attempt(async () => {
      const before = points.map(placeOfPoint);
      await api(`/devices/${points[0]?.deviceId}/assignment`, 'PUT', { nodeId });
      await Promise.all([mutate('/points'), mutate('/installation')]);
      say(`All ${points.length} points belong to ${nodes.find((n) => n.id === nodeId)?.name}.`, () =>
        assignPoints(before),
      );
    });
  return (
    <p className={styles.all}>
      <label>
        All points belong to{' '}
        <select className={styles.select} value="" onChange={(e) => assign(Number(e.target.value))}>
          <option value="" disabled>
            choose a circuit
          </option>
          {nodes.map((n) => (
            <option key={n.id} value={n.id}>
              {nodeTitle(n)}
            </option>
          ))}
        </select>
      </label>
    </p>
  );
}
