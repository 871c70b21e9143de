import type { Point } from '@loka/contract/points';
import { printAge } from '@loka/core/formats';
import { quantityInfo } from '@loka/core/quantities';
import { isFormula, isMessage, isRegister, type AnyDefinition } from '@loka/core/definitions';
import { isReadable, nameOfState } from '@loka/core/points';
import {
  hexBytes,
  hexWord,
  isBitKind,
  kindInWords,
  ownWords,
  readRequestBytes,
  readSpanOf,
  type PointDefinition,
} from '@loka/core/registers';
import { isFresh, isUsable, qualityInWords } from '@loka/core/series';
import Popover from '@mui/material/Popover';
import { useId, useState, type ReactNode } from 'react';
import { useReading } from '../api/live.js';
import { useCalibrations, useDevices, useInstallation, useWords } from '../api/useApi.js';
import { useNow } from '../api/clock.js';
import { Measured } from './Measured.js';
import styles from './Reading.module.css';

/**
 * The newest reading of a point. Says its age when that is more than two intervals; a click says where it comes
 * from. `brief` leaves the reason of a missing one to that click.
 */
export function Reading({
  point,
  brief = false,
  className = '',
}: {
  point: Point;
  brief?: boolean;
  className?: string;
}) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const label = useId();
  const reading = useReading(point.id);
  const now = useNow(1000);
  const { unit, kind } = quantityInfo(point.definition.quantity);
  const old = reading !== undefined && !isFresh(reading.t, now, point.definition.intervalMs);
  const named = reading && reading.v !== null ? nameOfState(point.definition, reading.v) : null;
  const usable = reading !== undefined && reading.v !== null && isUsable(reading.q);
  return (
    <>
      <span id={label} hidden>
        Where {point.definition.name} comes from
      </span>
      <button
        type="button"
        id={`${label}value`}
        className={`${styles.button} ${className}`}
        onClick={(e) => setAnchor(e.currentTarget)}
        // What is read aloud holds what is seen (WCAG 2.5.3).
        aria-labelledby={`${label} ${label}value`}
      >
        {!reading ? (
          <span className="muted">no reading yet</span>
        ) : reading.text !== undefined ? (
          <span>{reading.text || '–'}</span>
        ) : !usable ? (
          <span className={styles.missing} title={qualityInWords(reading.q)}>
            {brief ? 'no data' : qualityInWords(reading.q).replace('bad: ', '')}
          </span>
        ) : named !== null ? (
          <span>{named}</span>
        ) : kind === 'state' ? (
          <span>{reading.v === 0 ? 'open' : 'closed'}</span>
        ) : (
          <Measured value={reading.v} unit={unit} />
        )}
        {old && !(brief && !usable) && <span className={styles.age}>{printAge(now - reading.t)} old</span>}
      </button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      >
        {anchor && <Origin point={point} />}
      </Popover>
    </>
  );
}

/** A number made of several readings: a click says where each of them comes from. */
export function ReadingsOrigin({
  points,
  label,
  children,
}: {
  points: readonly Point[];
  label: string;
  children: ReactNode;
}) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const id = useId();
  return (
    <>
      <span id={id} hidden>
        {label}
      </span>
      <button
        type="button"
        id={`${id}value`}
        className={styles.button}
        aria-labelledby={`${id} ${id}value`}
        onClick={(e) => setAnchor(e.currentTarget)}
      >
        {children}
      </button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      >
        {anchor && (
          <>
            {points.length > 1 && (
              <p className={styles.sum}>The sum of {points.length} points, each counted once:</p>
            )}
            {points.map((point) => (
              <Origin key={point.id} point={point} />
            ))}
          </>
        )}
      </Popover>
    </>
  );
}

/** The register, topic or formula that a value comes from. */
function source(definition: AnyDefinition): [string, React.ReactNode][] {
  if (isMessage(definition))
    return [
      ['Topic', definition.topic],
      ['In the payload', definition.pointer || 'the whole of it'],
    ];
  if (isFormula(definition)) return [['Formula', definition.formula]];
  const span = readSpanOf(definition);
  return [
    ['Register', `${kindInWords(definition.kind)} ${definition.address}, ${definition.type}`],
    ['On the wire', span ? hexBytes(readRequestBytes(span)) : '–'],
  ];
}

/** The words of its registers as they are now, asked for once more. */
function WordsNow({ point, definition }: { point: Point; definition: PointDefinition }) {
  const device = useDevices().data?.find((d) => d.id === point.deviceId);
  const { data, error } = useWords(device ?? null, definition);
  if (error) return <span className="muted">cannot be read now</span>;
  if (!data?.words) return <span className="muted">{data?.message ?? '…'}</span>;
  return (
    <>
      {ownWords(definition, data.words)
        .map((w) => (isBitKind(definition.kind) ? String(w) : hexWord(w)))
        .join(' ')}
    </>
  );
}

/** Where a number comes from: device, register, raw value, correction, age, quality. */
function Origin({ point }: { point: Point }) {
  const reading = useReading(point.id);
  const now = useNow(1000);
  const { data: calibrations } = useCalibrations(point.id);
  const inForce = calibrations?.find((c) => !c.superseded);
  const { data: nodes } = useInstallation();
  const doubted = nodes?.find((n) => n.id === point.nodeId)?.wiringFault;
  const { unit } = quantityInfo(point.definition.quantity);
  const rows: [string, React.ReactNode][] = [
    ['Point', point.definition.name],
    ['Device', point.deviceName],
    ...source(point.definition),
    ...(isRegister(point.definition) && isReadable(point.definition) && point.deviceId !== null
      ? [
          ['Words now', <WordsNow key="words" point={point} definition={point.definition} />] as [
            string,
            ReactNode,
          ],
        ]
      : []),
    ['Raw', <Measured key="raw" value={reading?.raw} unit={unit} />],
    [
      'Correction',
      inForce
        ? `${inForce.gain.toPrecision(5)} × raw ${inForce.offset < 0 ? '−' : '+'} ${Math.abs(inForce.offset).toPrecision(3)}`
        : point.calibrated
          ? 'by the current of the same clamp'
          : 'none',
    ],
    ['Reading', <Measured key="value" value={reading?.v} unit={unit} />],
    ['Quality', reading ? qualityInWords(reading.q) : 'no reading yet'],
    ...(doubted ? [['Wiring', doubted] as [string, React.ReactNode]] : []),
    ['Age', reading ? printAge(now - reading.t) : '–'],
  ];
  return (
    <dl className={styles.origin}>
      {rows.map(([name, value]) => (
        <div key={name}>
          <dt>{name}</dt>
          <dd>{value}</dd>
        </div>
      ))}
    </dl>
  );
}
