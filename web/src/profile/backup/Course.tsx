import type { PlacesBackup } from '@loka/contract/backup';
import { printInUnit } from '@loka/core/formats';
import type { BackupSource } from '@loka/core/profile';
import { siteClock } from '@loka/core/time';
import Button from '@mui/material/Button';
import { durationInWords } from '../../shared/duration.js';
import profiles from '../Profiles.module.css';
import styles from './Backup.module.css';

const WIDTH = 960;
const HEIGHT = 220;
/** Of it the store takes so much at the bottom. */
const STORE = 64;

const told = (watts: number): string => printInUnit(watts, 'W');

/** One failure of the supply gone through: what is drawn against what the source gives, and what is left in its store. */
export function Course({
  course,
  source,
  zone,
  isWorst,
  starts,
  onChoose,
}: {
  course: NonNullable<PlacesBackup['course']>;
  source: BackupSource;
  zone: string;
  isWorst: boolean;
  /** Of all failures, in order. */
  starts: readonly number[];
  /** Null for the worst. */
  onChoose: (start: number | null) => void;
}) {
  const { start, step, watts, top, left, lasts, ends } = course;
  const spans = Math.max(1, watts.length);
  const highest = Math.max(...top, 1);
  // Limits far above what is drawn would flatten it.
  const limits = [
    { watts: source.continuous, name: 'continuous' },
    { watts: source.peak, name: 'peak' },
  ].filter((l) => l.watts <= 2.5 * highest);
  const most = 1.08 * Math.max(highest, ...limits.map((l) => l.watts));
  const x = (i: number) => (i / spans) * WIDTH;
  const y = (w: number) => (1 - w / most) * (HEIGHT - STORE - 10);
  const yLeft = (wh: number) => HEIGHT - (wh / source.energy) * (STORE - 8);
  const steps = (values: readonly number[], at: (v: number) => number) =>
    values
      .map((v, i) => `${i === 0 ? `M0 ${at(v).toFixed(1)}` : `V${at(v).toFixed(1)}`}H${x(i + 1).toFixed(1)}`)
      .join('');
  // Nothing is drawn of a failure at whose beginning nothing was recorded.
  const area = (values: readonly number[], at: (v: number) => number, foot: number) =>
    values.length === 0 ? '' : `${steps(values, at)}V${foot}H0Z`;
  const length = spans * step;
  const clock = length > 20 * 3_600_000 ? 'ccc HH:mm' : 'HH:mm';
  const why = {
    energy: 'then its energy is used up',
    peak: 'then a peak is above what it gives',
    continuous: 'then more than its continuous power is drawn for too long',
    unknown: 'as far as it was recorded',
  }[ends];
  return (
    <section aria-label="One failure" className={profiles.picture}>
      <header className={profiles.title}>
        <h2>
          {isWorst ? 'The worst, ' : ''}
          {siteClock(zone, start, 'ccc d LLL HH:mm')}
        </h2>
        <small>
          {lasts === 0 ? 'does not last' : `lasts ${durationInWords(lasts)}`}, {why}
        </small>
        <span className={profiles.space} />
        <Step to={starts[starts.indexOf(start) - 1]} name="A quarter-hour earlier" onChoose={onChoose}>
          ‹
        </Step>
        <Step to={starts[starts.indexOf(start) + 1]} name="A quarter-hour later" onChoose={onChoose}>
          ›
        </Step>
        {!isWorst && <Button onClick={() => onChoose(null)}>Worst</Button>}
      </header>
      <div className={styles.course}>
        <div className={profiles.watts} aria-hidden>
          {limits.map((l) => (
            <span key={l.name} style={{ top: `${(100 * y(l.watts)) / HEIGHT}%` }}>
              {told(l.watts)}
            </span>
          ))}
          <span style={{ top: `${(100 * y(0)) / HEIGHT}%` }}>0 W</span>
          <span style={{ top: `${(100 * yLeft(source.energy)) / HEIGHT}%` }}>full</span>
          <span style={{ top: `${(100 * (HEIGHT - 6)) / HEIGHT}%` }}>empty</span>
        </div>
        <svg
          viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
          preserveAspectRatio="none"
          role="img"
          aria-label={`Up to ${told(highest)}; lasts ${durationInWords(lasts)}, ${why}`}
        >
          <path d={area(top, y, y(0))} className={profiles.wide} />
          <path d={area(watts, y, y(0))} className={profiles.half} />
          <path d={steps(watts, y)} className={profiles.line} />
          <line x1={0} x2={WIDTH} y1={y(0)} y2={y(0)} className={profiles.thin} />
          {limits.map((l) => (
            <line key={l.name} x1={0} x2={WIDTH} y1={y(l.watts)} y2={y(l.watts)} className={styles.limit} />
          ))}
          <path d={area(left, yLeft, HEIGHT)} className={styles.store} />
          <line
            x1={0}
            x2={WIDTH}
            y1={yLeft(source.energy)}
            y2={yLeft(source.energy)}
            className={profiles.thin}
          />
        </svg>
        <div className={profiles.hours} aria-hidden>
          {[0, 0.25, 0.5, 0.75, 1].map((s) => (
            <span key={s} style={{ left: `${100 * s}%` }}>
              {siteClock(zone, start + s * length, clock)}
            </span>
          ))}
        </div>
      </div>
    </section>
  );
}

function Step({
  to,
  name,
  onChoose,
  children,
}: {
  /** Undefined beyond the first and the last. */
  to: number | undefined;
  name: string;
  onChoose: (start: number) => void;
  children: string;
}) {
  return (
    <Button aria-label={name} disabled={to === undefined} onClick={() => to !== undefined && onChoose(to)}>
      {children}
    </Button>
  );
}
