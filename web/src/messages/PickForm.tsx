import { printDuration, typedDuration } from '@loka/core/formats';
import type { Device } from '@loka/contract/devices';
import type { Link } from '@loka/contract/links';
import type { TopicSeen } from '@loka/contract/messages';
import type { RegisterMap } from '@loka/contract/registers';
import {
  checkMessages,
  newMessage,
  pointerOf,
  templateOf,
  type MessageDefinition,
} from '@loka/core/messages';
import { quantityInfo, type Quantity } from '@loka/core/quantities';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { useDevices, useRegisterMaps, useTopics } from '../api/useApi.js';
import { keyFor } from '../registers/draft.js';
import { QuantityField, UnitField } from '../points/QuantityFields.js';
import { FormDialog } from '../shared/FormDialog.js';
import { useSubmit } from '../shared/useSubmit.js';
import { Measured } from '../shared/Measured.js';
import { useNotices } from '../shared/notices.js';
import { givenBy } from './givenBy.js';
import { contactWords, guessQuantity, nameFrom, timeIn } from './guess.js';

/** A value that was clicked in a payload. */
export interface Picked {
  seen: TopicSeen;
  steps: string[];
  value: unknown;
}

const NEW_DEVICE = 0;
/** Reporting intervals are rounded up to one of these, so that a late report is no silence. */
const USUAL = [1000, 2000, 5000, 10_000, 30_000, 60_000, 300_000, 900_000, 3_600_000];

/** Makes a point of a picked value: on a device that is there, or on a new one. */
export function PickForm({ picked, link, onClose }: { picked: Picked; link: Link; onClose: () => void }) {
  const { data: devices } = useDevices();
  const { data: maps } = useRegisterMaps();
  const { say } = useNotices();
  const own = (devices ?? []).filter((d) => d.linkId === link.id);
  const near = own.find((d) => d.topic !== '' && picked.seen.topic.startsWith(`${d.topic}/`));
  const guess = guessQuantity(picked.steps.at(-1) ?? picked.seen.topic, picked.value);
  // Until a person chooses, what is known by now decides: the devices, and how often the topic comes, may still be on their way.
  const [chosen, setChosen] = useState<number | null>(null);
  const deviceId = chosen ?? near?.id ?? NEW_DEVICE;
  const [deviceName, setDeviceName] = useState(nameFrom([], baseOf(picked.seen.topic)));
  const [base, setBase] = useState(baseOf(picked.seen.topic));
  const [name, setName] = useState(nameFrom(picked.steps, picked.seen.topic));
  const [pointer, setPointer] = useState(pointerOf(picked.steps));
  const [timePointer, setTimePointer] = useState(timeIn(picked.seen.payload, picked.seen.at));
  const [quantity, setQuantity] = useState<Quantity>(guess.quantity);
  const [unit, setUnit] = useState(guess.unit);
  const { data: topics } = useTopics(link.id);
  const seen = topics?.topics.find((t) => t.topic === picked.seen.topic) ?? picked.seen;
  const [typed, setTyped] = useState<string | null>(null);
  const every = typed ?? printDuration(usual(seen.everyMs));
  const intervalMs = typedDuration(every) ?? NaN;
  const words = contactWords(typeof picked.value === 'string' ? picked.value : '');
  const [on, setOn] = useState(words.on);
  const [off, setOff] = useState(words.off);
  const device = own.find((d) => d.id === deviceId);
  const map = (maps ?? []).find((m) => m.id === device?.mapId);
  const byWords = quantity === 'contact-state' && typeof picked.value === 'string';
  const definition = newMessage({
    key: keyFor(name, map?.messages.map((m) => m.key) ?? []),
    name,
    topic: templateOf(picked.seen.topic, device?.topic ?? base),
    pointer,
    ...(timePointer ? { timePointer } : {}),
    ...(byWords ? { on, off } : {}),
    quantity,
    unit,
    intervalMs,
  });
  const fault = checkMessages([definition])[0]?.message ?? null;
  const found = fault ? null : givenBy(definition, seen);
  const { busy, problem, dialog } = useSubmit(async () => {
    await (device && map ? addTo(map, definition) : makeDevice(link, { deviceName, base, definition }));
    await Promise.all([mutate('/devices'), mutate('/points'), mutate('/register-maps')]);
    say(`${name} is read from now on.`);
    onClose();
  });
  return (
    <FormDialog
      title={`A value from ${picked.seen.topic}`}
      verb="Read this value"
      {...dialog}
      // Whose topic it is, is not known before.
      busy={
        busy ||
        !devices ||
        !maps ||
        fault !== null ||
        !(intervalMs > 0) ||
        (!device && deviceName.trim() === '')
      }
      problem={problem ?? fault}
      onClose={onClose}
    >
      <TextField
        select
        label="Device"
        value={deviceId}
        onChange={(e) => setChosen(Number(e.target.value))}
        helperText=" "
      >
        {own.map((d: Device) => (
          <MenuItem key={d.id} value={d.id}>
            {d.name}
          </MenuItem>
        ))}
        <MenuItem value={NEW_DEVICE}>A new device</MenuItem>
      </TextField>
      {!device && (
        <>
          <TextField
            label="Name of the device"
            value={deviceName}
            onChange={(e) => setDeviceName(e.target.value)}
            helperText=" "
          />
          <TextField
            label="Base topic"
            value={base}
            onChange={(e) => setBase(e.target.value)}
            helperText="What all its topics begin with; another device of the kind has another"
          />
        </>
      )}
      <TextField
        label="Name of the value"
        autoFocus
        value={name}
        onChange={(e) => setName(e.target.value)}
        helperText=" "
      />
      <div style={{ display: 'grid', gridTemplateColumns: '2fr 1fr', gap: 10 }}>
        <QuantityField
          value={quantity}
          onChange={(next) => {
            setQuantity(next);
            setUnit(quantityInfo(next).unit);
          }}
        />
        <UnitField quantity={quantity} value={unit} onChange={setUnit} />
      </div>
      <TextField
        label="Where in the payload (JSON pointer)"
        value={pointer}
        onChange={(e) => setPointer(e.target.value)}
        helperText="Empty: the payload is the value"
      />
      {byWords && (
        <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 10 }}>
          <TextField label="Means closed" value={on} onChange={(e) => setOn(e.target.value)} helperText=" " />
          <TextField label="Means open" value={off} onChange={(e) => setOff(e.target.value)} helperText=" " />
        </div>
      )}
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 10 }}>
        <TextField
          label="Time stamp at"
          value={timePointer}
          onChange={(e) => setTimePointer(e.target.value)}
          helperText="Empty: when it arrives"
        />
        <TextField
          label="Reports every"
          value={every}
          onChange={(e) => setTyped(e.target.value)}
          error={!(intervalMs > 0)}
          helperText={
            intervalMs > 0
              ? 'Silent when nothing comes for longer'
              : 'Type seconds, or with a unit: 2.5 s, 2 min, 1 h.'
          }
        />
      </div>
      {found && (
        <p role="status">
          {'fault' in found ? (
            <span className="danger">{found.fault}</span>
          ) : (
            <>
              It reads <Measured value={found.value} unit={quantityInfo(quantity).unit} /> now.
            </>
          )}
        </p>
      )}
    </FormDialog>
  );
}

async function addTo(map: RegisterMap, definition: MessageDefinition): Promise<void> {
  const { name, description, messages, availability, version } = map;
  await api(`/register-maps/${map.id}`, 'PUT', {
    name,
    description,
    availability,
    version,
    points: [],
    messages: [...messages, definition],
  });
}

async function makeDevice(
  link: Link,
  { deviceName, base, definition }: { deviceName: string; base: string; definition: MessageDefinition },
): Promise<void> {
  const map = await api<{ id: number }>('/register-maps', 'POST', {
    name: `${deviceName}, map`,
    description: '',
    points: [],
    messages: [definition],
  });
  await api('/devices', 'POST', { linkId: link.id, mapId: map.id, name: deviceName, topic: base });
}

/** All of a topic but its last level: what the topics of a device usually share. */
const baseOf = (topic: string): string => topic.split('/').slice(0, -1).join('/') || topic;

const usual = (everyMs: number | null): number =>
  USUAL.find((ms) => ms >= (everyMs ?? 60_000) * 0.8) ?? 3_600_000;
