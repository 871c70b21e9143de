import type { PlacesBackup } from '@loka/contract/backup';
import { medianLasting, type BackupEnd } from '@loka/core/profile';
import { siteClock } from '@loka/core/time';
import { useMemo, type MouseEvent } from 'react';
import { durationInWords } from '../../shared/duration.js';
import { Hours } from '../Carpet.js';
import profiles from '../Profiles.module.css';
import styles from './Backup.module.css';

const WIDTH = 960;
const HEIGHT = 300;
const COLUMNS = 96;
const ROWS = 40;
const MINUTE = 60_000;
/** Steps of the scale, ms. */
const STEPS = [1, 2, 5, 10, 15, 30, 60, 120, 180, 360, 720, 1440, 2880, 4320, 10_080].map((m) => m * MINUTE);

interface Failure {
  start: number;
  lasts: number;
  ends: BackupEnd;
  /** Quarter-hour of the day. */
  column: number;
}

/** How long the source lasts, by the time of day at which the supply fails; beside it how many last how long. A click shows one. */
export function HowLong({
  answer: { outages, figures, lasting },
  zone,
  shown,
  onChoose,
}: {
  answer: PlacesBackup;
  zone: string;
  /** The failure that is shown below. */
  shown: number | null;
  onChoose: (start: number) => void;
}) {
  const all = useMemo(
    () =>
      outages.starts.map((start, i): Failure => {
        const [hour, minute] = siteClock(zone, start, 'H m').split(' ').map(Number) as [number, number];
        return {
          start,
          lasts: outages.lasts[i] as number,
          ends: outages.ends[i] as BackupEnd,
          column: Math.floor((hour * 60 + minute) / 15),
        };
      }),
    [outages, zone],
  );
  const ended = all.filter((f) => f.ends !== 'unknown');
  // What is not seen to end says little of how long it lasts: the scale goes as far as the ends do, and as what is wanted.
  const most =
    Math.max(...ended.map((f) => f.lasts), Math.min(lasting, Math.max(...all.map((f) => f.lasts))), MINUTE) *
    1.06;
  const x = (column: number) => (column / COLUMNS) * WIDTH;
  const y = (ms: number) => HEIGHT - (Math.min(ms, most) / most) * HEIGHT;
  const cells = useMemo(() => counted(all, most), [all, most]);
  const median = useMemo(
    () =>
      Array.from({ length: COLUMNS }, (_, c) => medianLasting(all.filter((f) => f.column === c)))
        .map((v, c, line) =>
          v === null ? '' : `${line[c - 1] == null ? 'M' : 'L'}${x(c)} ${y(v)}H${x(c + 1)}`,
        )
        .join(''),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- x and y follow from most
    [all, most],
  );
  const step = STEPS.find((s) => most / s <= 6) ?? most;
  const ticks = Array.from({ length: Math.floor(most / step) + 1 }, (_, i) => i * step);
  const choose = (event: MouseEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const column = Math.floor(((event.clientX - box.left) / box.width) * COLUMNS);
    const ms = (1 - (event.clientY - box.top) / box.height) * most;
    const near = all
      .filter((f) => Math.abs(f.column - column) <= 1)
      .sort((a, b) => Math.abs(a.lasts - ms) - Math.abs(b.lasts - ms))[0];
    if (near) onChoose(near.start);
  };
  const chosen = all.find((f) => f.start === shown);
  const byRow = Array.from({ length: ROWS }, (_, row) => ({
    ended: ended.filter((f) => rowOf(f.lasts, most) === row).length,
    open: all.filter((f) => f.ends === 'unknown' && rowOf(f.lasts, most) === row).length,
  }));
  const widest = Math.max(1, ...byRow.map((r) => r.ended + r.open));
  const { median: middle, worst } = figures;
  return (
    <section aria-label="How long it lasts" className={profiles.picture}>
      <header className={profiles.title}>
        <h2>How long it lasts</h2>
        <small>by when the supply fails: {all.length} quarter-hours</small>
        <span className={profiles.space} />
        <small>
          <i className={styles.mark} /> ends <i className={styles.mark} data-open /> lasts longer than what
          was recorded
        </small>
      </header>
      <div className={styles.lasts}>
        <div className={profiles.watts} aria-hidden>
          {ticks.map((t) => (
            <span key={t} style={{ top: `${(100 * y(t)) / HEIGHT}%` }}>
              {durationInWords(t)}
            </span>
          ))}
        </div>
        <svg
          viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
          preserveAspectRatio="none"
          role="img"
          aria-label={`${all.length} failures; ${middle === null ? 'more than half outlast what was recorded' : `half last longer than ${durationInWords(middle)}`}${worst ? `, the worst ${durationInWords(worst.lasts)}` : ''}`}
          onClick={choose}
          className={styles.scatter}
        >
          {ticks.map((t) => (
            <line key={t} x1={0} x2={WIDTH} y1={y(t)} y2={y(t)} className={styles.grid} />
          ))}
          {cells.map(({ column, row, count, open }) => (
            <rect
              key={`${column} ${row} ${open}`}
              x={x(column) + 1.5}
              y={HEIGHT - ((row + 1) / ROWS) * HEIGHT + 1}
              width={WIDTH / COLUMNS - 3}
              height={HEIGHT / ROWS - 2}
              className={open ? styles.openCell : styles.cell}
              opacity={Math.min(1, 0.25 + 0.15 * count)}
            />
          ))}
          <path d={median} className={styles.median} />
          {lasting <= most && (
            <line x1={0} x2={WIDTH} y1={y(lasting)} y2={y(lasting)} className={styles.wanted} />
          )}
          {chosen && (
            <rect
              x={x(chosen.column) - 4}
              y={y(chosen.lasts) - 6}
              width={WIDTH / COLUMNS + 8}
              height={12}
              className={styles.chosen}
            />
          )}
        </svg>
        <svg viewBox={`0 0 100 ${HEIGHT}`} preserveAspectRatio="none" className={styles.side} aria-hidden>
          {byRow.map((r, row) => {
            const at = HEIGHT - ((row + 1) / ROWS) * HEIGHT + 1;
            const height = HEIGHT / ROWS - 2;
            return (
              <g key={row}>
                <rect x={0} y={at} width={(100 * r.ended) / widest} height={height} className={styles.cell} />
                <rect
                  x={(100 * r.ended) / widest}
                  y={at}
                  width={(100 * r.open) / widest}
                  height={height}
                  className={styles.openCell}
                />
              </g>
            );
          })}
          {middle !== null && (
            <line x1={0} x2={100} y1={y(middle)} y2={y(middle)} className={styles.median} />
          )}
        </svg>
        <Hours />
      </div>
    </section>
  );
}

const rowOf = (lasts: number, most: number): number => Math.min(ROWS - 1, Math.floor((lasts / most) * ROWS));

/** Failures that lie at the same place of the picture as one. */
function counted(all: readonly Failure[], most: number) {
  const cells = new Map<string, { column: number; row: number; count: number; open: boolean }>();
  for (const { column, lasts, ends } of all) {
    const [row, open] = [rowOf(lasts, most), ends === 'unknown'];
    const key = `${column} ${row} ${open}`;
    const cell = cells.get(key);
    if (cell) cell.count++;
    else cells.set(key, { column, row, count: 1, open });
  }
  return [...cells.values()];
}
