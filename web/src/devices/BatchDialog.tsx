import type { Device } from '@loka/contract/devices';
import { hasAddresses, isModbusKind, type Link } from '@loka/contract/links';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { FormDialog } from '../shared/FormDialog.js';
import { useSubmit } from '../shared/useSubmit.js';
import { useNotices } from '../shared/notices.js';
import { members, type Difference } from './batch.js';
import styles from './DevicePanel.module.css';

/** Several devices like one at once: names and unit ids, base topics or addresses that count up. */
export function BatchDialog({
  like,
  link,
  firstUnit,
  onClose,
}: {
  like: Device;
  link: Link;
  firstUnit: number;
  onClose: () => void;
}) {
  const [by, setBy] = useState<Difference>(isModbusKind(link.kind) ? 'unit' : 'topic');
  const [count, setCount] = useState('3');
  const [first, setFirst] = useState(String(by === 'unit' ? firstUnit : 2));
  const [name, setName] = useState(`${like.name} #`);
  const [topic, setTopic] = useState(like.topic === '' ? '' : `${like.topic.replace(/\d+$/, '')}#`);
  const { host, port } = link;
  const [address, setAddress] = useState(`${host.replace(/\d+$/, '')}#${port === 502 ? '' : `:${port}`}`);
  const { say } = useNotices();
  const list = members({
    count: Number(count),
    first: Number(first),
    name,
    topic: by === 'address' ? address : topic,
    unit: like.unit,
    by,
  });
  const choose = (difference: Difference) => {
    setBy(difference);
    if (difference === 'address') setFirst(String(Number(/\d+$/.exec(host)?.[0] ?? 1) + 1));
    if (difference === 'unit') setFirst(String(firstUnit));
  };
  const { busy, dialog } = useSubmit(async () => {
    const { ids, linkIds } = await api<{ ids: number[]; linkIds: number[] }>('/devices/batch', 'POST', {
      likeId: like.id,
      members: list,
    });
    await Promise.all(['/links', '/devices', '/points', '/register-maps'].map((key) => mutate(key)));
    say(`${ids.length} devices were added.`, async () => {
      await api('/devices/batch/take-back', 'POST', { ids, linkIds });
    });
    onClose();
  });
  return (
    <FormDialog
      title={`Several like ${like.name}`}
      verb={list.length === 1 ? 'Add 1 device' : `Add ${list.length} devices`}
      {...dialog}
      busy={busy || list.length === 0}
      onClose={onClose}
    >
      {hasAddresses(link.kind) && (
        <div role="radiogroup" aria-label="They differ by" className={styles.differ}>
          {(['unit', 'address'] as const).map((difference) => (
            <label key={difference}>
              <input
                type="radio"
                name="difference"
                checked={by === difference}
                onChange={() => choose(difference)}
              />{' '}
              {difference === 'unit' ? `Unit ids behind ${link.name}` : 'Addresses of their own'}
            </label>
          ))}
        </div>
      )}
      <TextField
        label="How many"
        autoFocus
        inputMode="numeric"
        value={count}
        onChange={(e) => setCount(e.target.value)}
        helperText="1 to 100"
      />
      <TextField
        label={by === 'unit' ? 'First unit id' : 'First number'}
        inputMode="numeric"
        value={first}
        onChange={(e) => setFirst(e.target.value)}
        helperText=" "
      />
      <TextField
        label="Names"
        value={name}
        onChange={(e) => setName(e.target.value)}
        helperText="# becomes the number"
      />
      {by === 'address' && (
        <TextField
          label="Addresses"
          value={address}
          onChange={(e) => setAddress(e.target.value)}
          helperText={`# becomes the number; unit ${like.unit} at each, links set up like ${link.name}`}
        />
      )}
      {by === 'topic' && (
        <TextField
          label="Base topics"
          value={topic}
          onChange={(e) => setTopic(e.target.value)}
          helperText="# becomes the number"
        />
      )}
      <p className="muted" role="status">
        {list.length === 0
          ? 'Enter how many, and the first number.'
          : `${list
              .slice(0, 4)
              .map(
                (m) =>
                  `${m.name} (${m.address ? `${m.address.host}:${m.address.port}` : by === 'unit' ? `unit ${m.unit}` : m.topic})`,
              )
              .join(', ')}${list.length > 4 ? ` … ${list.at(-1)?.name}` : ''}`}
      </p>
    </FormDialog>
  );
}
