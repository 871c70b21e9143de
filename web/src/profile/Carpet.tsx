import type { PlaceProfile } from '@loka/contract/profile';
import { printNumber } from '@loka/core/formats';
import { siteClock, timeOfDay } from '@loka/core/time';
import { useEffect, useMemo, useRef, useState, type PointerEvent } from 'react';
import { useColorScheme } from '@mui/material/styles';
import { ramp } from './ramp.js';
import styles from './Profiles.module.css';

const HOURS = [0, 3, 6, 9, 12, 15, 18, 21, 24];

/** Days as rows, times of day as columns, power as ink: habits, leaks and failures at a look. A click goes to that hour. */
export function Carpet({
  profile: { carpet, duration, to },
  zone,
  onOpen,
}: {
  profile: PlaceProfile;
  zone: string;
  onOpen: (at: number) => void;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { colorScheme } = useColorScheme();
  const [at, setAt] = useState<{ row: number; column: number } | null>(null);
  const { days, columns, minutes, watts } = carpet;
  const [low, high] = [Math.min(0, duration?.lowest ?? 0), duration?.highest ?? 1];
  const colour = useMemo(() => ramp(low, high, colorScheme === 'dark'), [low, high, colorScheme]);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context || days.length === 0) return;
    const image = context.createImageData(columns, days.length);
    watts.forEach((w, i) => {
      const [row, column] = [Math.floor(i / columns), i % columns];
      // What is still to come is no gap.
      const hatched = (row + column) % 3 === 0 && (days[row] as number) + column * minutes * 60_000 < to;
      image.data.set(w === null ? (hatched ? [174, 42, 30, 70] : [0, 0, 0, 0]) : [...colour(w), 255], 4 * i);
    });
    context.putImageData(image, 0, 0);
  }, [watts, columns, days, minutes, to, colour]);
  const cell = (event: PointerEvent) => {
    const box = event.currentTarget.getBoundingClientRect();
    return {
      row: Math.min(days.length - 1, Math.floor(((event.clientY - box.top) / box.height) * days.length)),
      column: Math.min(columns - 1, Math.floor(((event.clientX - box.left) / box.width) * columns)),
    };
  };
  const pointed = at && days[at.row] !== undefined ? at : null;
  const value = pointed ? watts[pointed.row * columns + pointed.column] : undefined;
  const clock = (column: number) => {
    const minute = column * minutes;
    return `${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(Math.floor(minute % 60)).padStart(2, '0')}`;
  };
  const shown = printNumber(high, 'W');
  const said = value === undefined || value === null ? null : printNumber(value, 'W');
  return (
    <section aria-label="Every day" className={styles.picture}>
      <header className={styles.title}>
        <h2>Every day</h2>
        <small>one row a day, a cell {minutes} min</small>
        <span className={styles.space} />
        <small className="measured">
          {pointed
            ? `${siteClock(zone, days[pointed.row] as number, 'ccc d LLL')} ${clock(pointed.column)}  ${said ? `${said.digits} ${said.unit}` : 'not read'}`
            : ''}
        </small>
        <small className="measured">{low < 0 ? `${printNumber(low, 'W').digits} ` : '0 '}</small>
        <i
          className={styles.ramp}
          style={{ background: `linear-gradient(to right, ${stops(colour, low, high)})` }}
        />
        <small className="measured">
          {shown.digits} {shown.unit}
        </small>
      </header>
      <div className={styles.carpet}>
        <div className={styles.dates} aria-hidden>
          {days.map((d, row) =>
            row % Math.max(1, Math.ceil(days.length / 6)) === 0 ? (
              <span key={d} style={{ top: `${(100 * row) / days.length}%` }}>
                {siteClock(zone, d, 'ccc d')}
              </span>
            ) : null,
          )}
        </div>
        <canvas
          ref={canvas}
          width={columns}
          height={Math.max(1, days.length)}
          role="img"
          aria-label={`${days.length} days by time of day, from ${printNumber(low, 'W').digits} to ${shown.digits} ${shown.unit}`}
          onPointerMove={(e) => setAt(cell(e))}
          onPointerLeave={() => setAt(null)}
          onClick={(e) => {
            const { row, column } = cell(e as unknown as PointerEvent);
            const day = days[row];
            if (day !== undefined) onOpen(timeOfDay(zone, day, column * minutes));
          }}
        />
        <Hours />
      </div>
    </section>
  );
}

const stops = (colour: (w: number) => [number, number, number], low: number, high: number): string =>
  [0, 0.2, 0.4, 0.6, 0.8, 1].map((s) => `rgb(${colour(low + s * (high - low)).join(' ')})`).join(', ');

/** The hours below a picture of a day. */
export const Hours = () => (
  <div className={styles.hours} aria-hidden>
    {HOURS.map((h) => (
      <span key={h} style={{ left: `${(100 * h) / 24}%` }}>
        {String(h).padStart(2, '0')}
      </span>
    ))}
  </div>
);
