import { isReadable } from '@loka/core/points';
import type { Device } from '@loka/contract/devices';
import { isModbusKind, LinkInput } from '@loka/contract/links';
import type { Point } from '@loka/contract/points';
import type { InstallationNode } from '@loka/contract/installation';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { useDevices, useLinks, useRegisterMaps } from '../api/useApi.js';
import { placeOf } from '../shared/linkKinds.js';
import { assignPoints, placeOfPoint } from '../points/assignPoints.js';
import { useUnsaved } from '../shared/unsaved.js';
import { useNotices } from '../shared/notices.js';
import { applySensing, type FittedSensing } from './applySensing.js';
import { bestMap, BY_SUNSPEC, FIND_OUT, recognise } from '../devices/mapChoice.js';
import { likelyDevice, likelyMap, phaseFor, proposedValues } from '../points/proposedValues.js';
import styles from './FitPage.module.css';

const NEW_LINK = 0;

/** The device for a circuit: values of one that is connected, or a new one in one go. */
export function FitDevice({
  node,
  points,
  sensing,
}: {
  node: InstallationNode;
  points: Point[];
  sensing: FittedSensing;
}) {
  const { data: devices = [] } = useDevices();
  const [chosen, setHow] = useState<'there' | 'new' | null>(null);
  const how = chosen ?? (likelyDevice(points, node) === undefined ? 'new' : 'there');
  return (
    <div>
      <div className={styles.row} role="radiogroup" aria-label="Which device">
        <label>
          <input type="radio" name="how" checked={how === 'there'} onChange={() => setHow('there')} /> One
          that is connected
        </label>
        <label>
          <input type="radio" name="how" checked={how === 'new'} onChange={() => setHow('new')} /> A new one
        </label>
      </div>
      {how === 'there' ? (
        <Connected node={node} points={points} devices={devices} sensing={sensing} />
      ) : (
        <Fresh node={node} sensing={sensing} />
      )}
    </div>
  );
}

function Connected({
  node,
  points,
  devices,
  sensing,
}: {
  node: InstallationNode;
  points: Point[];
  devices: Device[];
  sensing: FittedSensing;
}) {
  const [deviceId, setDeviceId] = useState<number | null>(null);
  const likely = deviceId ?? likelyDevice(points, node);
  const chosenDevice = devices.find((d) => d.id === likely) ?? devices[0];
  const own = points.filter((p) => p.deviceId === chosenDevice?.id && isReadable(p.definition));
  const here = own.filter((p) => p.nodeId === node.id);
  const [picked, setPicked] = useState<number[] | null>(null);
  const chosen = picked ?? proposedValues(own, node.phases).map((p) => p.id);
  const { attempt, say } = useNotices();
  if (!chosenDevice) return <p className="muted">There is no device yet. Connect a new one.</p>;
  const assign = () =>
    void attempt(async () => {
      const before = own.filter((p) => chosen.includes(p.id));
      await assignPoints(before.map((p) => ({ id: p.id, nodeId: node.id, phase: phaseFor(p, node) })));
      const takeBack = await applySensing(before, sensing);
      say(`${before.length} values of ${chosenDevice.name} belong to ${node.name}.`, async () => {
        await takeBack();
        await assignPoints(before.map(placeOfPoint));
      });
    });
  return (
    <div>
      <div className={styles.row}>
        <select
          aria-label="Device"
          value={chosenDevice.id}
          onChange={(e) => {
            setDeviceId(Number(e.target.value));
            setPicked(null);
          }}
        >
          {devices.map((d) => (
            <option key={d.id} value={d.id}>
              {d.name}
            </option>
          ))}
        </select>
      </div>
      <div className={styles.values}>
        {own
          .filter((p) => !here.includes(p))
          .map((p) => (
            <label key={p.id}>
              <input
                type="checkbox"
                checked={chosen.includes(p.id)}
                onChange={(e) =>
                  setPicked(e.target.checked ? [...chosen, p.id] : chosen.filter((id) => id !== p.id))
                }
              />{' '}
              {p.definition.name}
              {p.nodeId !== null && <span className="muted"> (elsewhere now)</span>}
            </label>
          ))}
      </div>
      {here.length > 0 && (
        <p className="muted">
          {here.length === own.length ? `All ${own.length} values` : `${here.length} of ${own.length} values`}{' '}
          of {chosenDevice.name} belong to {node.name}.
        </p>
      )}
      {here.length < own.length && (
        <Button variant="contained" disabled={chosen.length === 0} onClick={assign}>
          Assign to {node.name}
        </Button>
      )}
    </div>
  );
}

function Fresh({ node, sensing }: { node: InstallationNode; sensing: FittedSensing }) {
  const { data: links = [] } = useLinks();
  const { data: maps = [] } = useRegisterMaps();
  const [linkId, setLinkId] = useState(NEW_LINK);
  const [host, setHost] = useState('');
  const [port, setPort] = useState('502');
  const [mapId, setMapId] = useState<number | null>(null);
  const [unit, setUnit] = useState('1');
  const [topic, setTopic] = useState('');
  const [busy, setBusy] = useState(false);
  const { attempt, say } = useNotices();
  useUnsaved((host !== '' || topic !== '') && !busy ? 'how the device is reached' : null);
  const link = links.find((l) => l.id === linkId);
  const byUnit = !link || isModbusKind(link.kind);
  const fitting = maps.filter((m) => (byUnit ? m.points.length > 0 : m.messages.length > 0));
  const chosenMap = mapId ?? (byUnit ? FIND_OUT : (likelyMap(fitting, node)?.id ?? null));
  const connect = () =>
    void attempt(async () => {
      setBusy(true);
      try {
        // Before a link is made: what never answers is not taken over.
        if (!link) await testLink({ name: `${node.name} meter`, host, port: Number(port) });
        const found =
          chosenMap === FIND_OUT
            ? bestMap(
                await recognise({
                  unit: Number(unit),
                  ...(link ? { linkId: link.id } : { host, port: Number(port) }),
                }),
              )
            : { mapId: chosenMap, words: '' };
        const id = link
          ? link.id
          : await linkTo(links, { name: `${node.name} meter`, host, port: Number(port) });
        const common = { linkId: id, name: `${node.name} meter` };
        const made =
          found.mapId === BY_SUNSPEC
            ? await api<{ id: number }>('/devices/sunspec', 'POST', { ...common, unit: Number(unit) })
            : await api<{ id: number }>('/devices', 'POST', {
                ...common,
                mapId: found.mapId,
                unit: byUnit ? Number(unit) : 1,
                topic: byUnit ? '' : topic,
              });
        const own = (await api<Point[]>('/points')).filter((p) => p.deviceId === made.id);
        const proposed = proposedValues(own, node.phases);
        await assign(made.id, own, proposed, node);
        const takeBack = await applySensing(proposed, sensing);
        await mutate(() => true);
        setHost('');
        setTopic('');
        say(
          `${found.words ? `Recognised: ${found.words}. ` : ''}${common.name} is connected, and ${proposed.length === own.length ? 'its values belong' : `${proposed.length} of its ${own.length} values belong`} to ${node.name}.`,
          async () => {
            await takeBack();
            await api(`/devices/${made.id}`, 'DELETE');
          },
        );
      } finally {
        setBusy(false);
      }
    });
  return (
    <div style={{ display: 'grid', gap: 12, maxWidth: 460, paddingTop: 10 }}>
      <TextField
        select
        label="Link"
        value={linkId}
        onChange={(e) => {
          setLinkId(Number(e.target.value));
          setMapId(null);
        }}
      >
        <MenuItem value={NEW_LINK}>A new address, Modbus TCP</MenuItem>
        {links.map((l) => (
          <MenuItem key={l.id} value={l.id}>
            {l.name}, {placeOf(l)}
          </MenuItem>
        ))}
      </TextField>
      {linkId === NEW_LINK && (
        <div className={styles.address}>
          <TextField
            label="Host"
            placeholder="192.168.1.40"
            value={host}
            onChange={(e) => setHost(e.target.value)}
          />
          <TextField
            label="Port"
            inputMode="numeric"
            value={port}
            onChange={(e) => setPort(e.target.value)}
          />
        </div>
      )}
      <TextField
        select
        label="Kind of device"
        value={chosenMap ?? ''}
        onChange={(e) => setMapId(Number(e.target.value))}
      >
        {byUnit && <MenuItem value={FIND_OUT}>Recognise it: try each map on what it answers</MenuItem>}
        {fitting.map((m) => (
          <MenuItem key={m.id} value={m.id}>
            {m.name}
          </MenuItem>
        ))}
        {byUnit && <MenuItem value={BY_SUNSPEC}>Detect automatically (SunSpec)</MenuItem>}
      </TextField>
      {byUnit ? (
        <TextField
          label="Unit id"
          inputMode="numeric"
          value={unit}
          onChange={(e) => setUnit(e.target.value)}
        />
      ) : (
        <TextField label="Base topic" value={topic} onChange={(e) => setTopic(e.target.value)} />
      )}
      <div>
        <Button
          variant="contained"
          disabled={busy || chosenMap === null || (linkId === NEW_LINK && host === '')}
          onClick={connect}
        >
          Connect
        </Button>
      </div>
    </div>
  );
}

/** Gives values of a new device to a circuit: all of them in one go where nothing has to be said of single ones. */
async function assign(
  deviceId: number,
  own: readonly Point[],
  proposed: readonly Point[],
  node: InstallationNode,
): Promise<void> {
  if (proposed.length === own.length && own.every((p) => phaseFor(p, node) === null))
    return api(`/devices/${deviceId}/assignment`, 'PUT', { nodeId: node.id });
  await assignPoints(proposed.map((p) => ({ id: p.id, nodeId: node.id, phase: phaseFor(p, node) })));
}

interface Address {
  name: string;
  host: string;
  port: number;
}

/** @throws ApiError where nothing answers at the address */
const testLink = (address: Address) => api('/links/test', 'POST', { ...new LinkInput(), ...address });

/** The link to an address: the one that is there, or a new one. */
async function linkTo(
  links: readonly { id: number; kind: string; host: string; port: number }[],
  address: Address,
): Promise<number> {
  const there = links.find(
    (l) => l.kind === 'modbus-tcp' && l.host === address.host && l.port === address.port,
  );
  if (there) return there.id;
  return (await api<{ id: number }>('/links', 'POST', { ...new LinkInput(), ...address })).id;
}
