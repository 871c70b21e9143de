import type { MovedPoint } from '@loka/contract/acquisition';
import type { Point } from '@loka/contract/points';
import { quantityInfo } from '@loka/core/quantities';
import { SETTLE, type Mark } from '@loka/core/series';
import Button from '@mui/material/Button';
import { useEffect, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { mutate } from 'swr';
import { api, inWords } from '../api/client.js';
import { useDevices, usePoints, useRegisterMaps, useSwitches } from '../api/useApi.js';
import { Measured } from '../shared/Measured.js';
import { useUnsaved } from '../shared/unsaved.js';
import { useNotices } from '../shared/notices.js';
import { PlainTable } from '../shared/PlainTable.js';
import { Reading } from '../shared/Reading.js';
import { serverNow } from '../api/clock.js';
import { NamePoint } from './NamePoint.js';
import styles from './MovesPage.module.css';

/** Below this it does not follow, or nobody can tell. */
const PLAIN = 0.6;

/** Switch a known load a few times, and see which values follow. */
export default function MovesPage() {
  const [search, setSearch] = useSearchParams();
  const { data: devices = [] } = useDevices();
  const { data: points = [] } = usePoints();
  const { data: switches = [] } = useSwitches();
  const [marks, setMarks] = useState<Mark[]>([]);
  const [moved, setMoved] = useState<MovedPoint[]>([]);
  const [problem, setProblem] = useState<string | null>(null);
  const [naming, setNaming] = useState<{ point: Point; step: number } | null>(null);
  const [bySwitch, setBySwitch] = useState<number | null>(null);
  const { attempt } = useNotices();
  useUnsaved(marks.length > 0 ? 'when you switched the load, and what moved' : null);
  const chosen = (search.get('devices') ?? '')
    .split(',')
    .map(Number)
    .filter((n) => n > 0);
  const last = marks.at(-1);

  const mark = (on: boolean) =>
    void attempt(async () => {
      if (bySwitch !== null) await api(`/switches/${bySwitch}/operate`, 'POST', { closed: on });
      // One word said twice is one word.
      setMarks((before) => (before.at(-1)?.on === on ? before : [...before, { t: serverNow(), on }]));
    });
  const devicesKey = chosen.join(',');
  useEffect(() => {
    if (marks.length < 2 || devicesKey === '') return;
    let stopped = false;
    const ask = async () => {
      try {
        const found = await api<MovedPoint[]>('/devices/which-moves', 'POST', {
          deviceIds: devicesKey.split(',').map(Number),
          marks,
          until: serverNow(),
        });
        if (!stopped) setMoved(found);
        setProblem(null);
      } catch (error) {
        if (!stopped) setProblem(inWords(error));
      }
    };
    void ask();
    const timer = setInterval(() => void ask(), 1500);
    return () => {
      stopped = true;
      clearInterval(timer);
    };
  }, [marks, devicesKey]);
  const toggle = (id: number) => {
    const next = chosen.includes(id) ? chosen.filter((d) => d !== id) : [...chosen, id];
    setSearch({ devices: next.join(',') });
    setMoved([]);
  };
  const clear = moved.filter((m) => m.clarity >= PLAIN);
  return (
    <div className={styles.page}>
      <div className={styles.title}>
        <h1>Which one moves?</h1>
        <span className={styles.space} />
        <Button component={Link} to={chosen[0] ? `/field?device=${chosen[0]}` : '/field'}>
          Back
        </Button>
      </div>
      <p className="muted">
        Switch a known load off and on a few times, and press the button each time. Every value that follows
        is listed with its step.
      </p>
      <div className={styles.choices}>
        <fieldset>
          <legend>Values of</legend>
          {devices.map((d) => (
            <label key={d.id}>
              <input type="checkbox" checked={chosen.includes(d.id)} onChange={() => toggle(d.id)} /> {d.name}
            </label>
          ))}
        </fieldset>
        <fieldset>
          <legend>The load is switched</legend>
          <label>
            <input type="radio" name="by" checked={bySwitch === null} onChange={() => setBySwitch(null)} /> by
            hand
          </label>
          {switches.map((s) => (
            <label key={s.id}>
              <input type="radio" name="by" checked={bySwitch === s.id} onChange={() => setBySwitch(s.id)} />{' '}
              by Loka: {s.name}
            </label>
          ))}
        </fieldset>
      </div>
      <div className={styles.words}>
        <Button
          variant={last?.on === false ? 'contained' : 'outlined'}
          disabled={chosen.length === 0}
          onClick={() => mark(false)}
        >
          {bySwitch === null ? 'It is off' : 'Switch it off'}
        </Button>
        <Button
          variant={last?.on === true ? 'contained' : 'outlined'}
          disabled={chosen.length === 0}
          onClick={() => mark(true)}
        >
          {bySwitch === null ? 'It is on' : 'Switch it on'}
        </Button>
        {marks.length > 0 && (
          <Button
            onClick={() => {
              setMarks([]);
              setMoved([]);
            }}
          >
            Start again
          </Button>
        )}
        <span className="muted" role="status">
          {chosen.length === 0
            ? 'Choose the device whose values you want to tell apart.'
            : marks.length === 0
              ? `Press “${bySwitch === null ? 'It is off' : 'Switch it off'}” first.`
              : `Switched ${marks.length - 1} time${marks.length === 2 ? '' : 's'}. Wait some seconds each time (readings count from ${SETTLE / 1000} s after it).`}
        </span>
      </div>
      {problem && (
        <p className="danger" role="alert">
          {problem}
        </p>
      )}
      {marks.length >= 2 && moved.length > 0 && clear.length === 0 && (
        <p role="status">
          Nothing clearly follows yet. Switch once more; if nothing does, none of these values belongs to this
          load.
        </p>
      )}
      {clear.length > 0 && (
        <PlainTable head={['Value', 'Step when on#', 'Of it#', 'Spread#', 'Noise#', 'Follows', 'Now#', '']}>
          {clear.slice(0, 12).map((m) => {
            const point = points.find((p) => p.id === m.pointId);
            if (!point) return null;
            const { unit } = quantityInfo(point.definition.quantity);
            return (
              <tr key={m.pointId}>
                <td>
                  {point.definition.name} <span className="muted">{point.deviceName}</span>
                </td>
                <td className="number">
                  {m.step > 0 ? '+' : ''}
                  <Measured value={m.step} unit={unit} />
                </td>
                <td className="number measured">
                  {m.share < 0.01 ? '< 1' : Math.round(m.share * 100)}
                  <span className="unit">%</span>
                </td>
                <td className="number">
                  <Measured value={m.spread} unit={unit} />
                </td>
                <td className="number">
                  <Measured value={m.noise} unit={unit} />
                </td>
                <td>
                  <span
                    className={styles.bar}
                    role="img"
                    aria-label={`${Math.round(m.clarity * 100)} % plain`}
                  >
                    <span style={{ width: `${m.clarity * 100}%` }} />
                  </span>
                </td>
                <td className="number">
                  <Reading point={point} brief />
                </td>
                <td>
                  <Button onClick={() => setNaming({ point, step: m.step })}>Name it</Button>
                </td>
              </tr>
            );
          })}
        </PlainTable>
      )}
      {naming && (
        <NamePoint
          point={naming.point}
          step={naming.step}
          load={switches.find((s) => s.id === bySwitch)?.name ?? ''}
          onClose={() => {
            setNaming(null);
            void mutate('/points');
          }}
        />
      )}
      <MapHint devices={chosen} />
    </div>
  );
}

/** Names live in the map, so they are shared by all devices that are made from it. */
function MapHint({ devices: chosen }: { devices: number[] }) {
  const { data: devices = [] } = useDevices();
  const { data: maps = [] } = useRegisterMaps();
  const shared = maps.filter(
    (m) => m.deviceIds.length > 1 && devices.some((d) => chosen.includes(d.id) && d.mapId === m.id),
  );
  if (shared.length === 0) return null;
  return (
    <p className="muted">
      Names are part of the map: naming a value of {shared.map((m) => `“${m.name}”`).join(', ')} names it for
      all its devices.
    </p>
  );
}
