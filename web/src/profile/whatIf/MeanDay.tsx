import type { BeforeAfter } from '@loka/core/profile';
import { UpAxis } from '../Axes.js';
import { Hours } from '../Carpet.js';
import profiles from '../Profiles.module.css';
import styles from './WhatIf.module.css';

const WIDTH = 960;
const HEIGHT = 300;

/** The mean day as it is, and as it would be. */
export function MeanDay({ of: { before, after }, title }: { of: BeforeAfter; title: string }) {
  const all = [...before.day, ...after.day].filter((w) => w !== null);
  const [low, high] = [Math.min(0, ...all), Math.max(1, ...all)];
  const x = (i: number) => (i / before.day.length) * WIDTH;
  const y = (w: number) => HEIGHT - 8 - ((w - low) / (high - low)) * (HEIGHT - 24);
  const steps = (day: readonly (number | null)[]) =>
    day
      .map((w, i) =>
        w === null
          ? ''
          : `${day[i - 1] == null ? 'M' : 'L'}${x(i).toFixed(1)} ${y(w).toFixed(1)}H${x(i + 1).toFixed(1)}`,
      )
      .join('');
  const scale = [high, 0, low].filter((w, i, list) => list.indexOf(w) === i && (w !== 1 || all.includes(1)));
  return (
    <figure className={styles.figure}>
      <figcaption className={profiles.title}>
        <h2>{title}, the mean day</h2>
        <small>
          <i className={profiles.key} data-line="median" /> as it is{' '}
          <i className={profiles.key} data-line="last" /> then
        </small>
      </figcaption>
      <div className={profiles.day}>
        <UpAxis values={scale} at={(w) => y(w) / HEIGHT} />
        <svg
          viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
          preserveAspectRatio="none"
          role="img"
          aria-label={`${title}: the mean day as it is and as it would be`}
        >
          <line x1={0} x2={WIDTH} y1={y(0)} y2={y(0)} className={profiles.level} />
          <path d={steps(before.day)} className={profiles.median} />
          <path d={steps(after.day)} className={profiles.last} />
        </svg>
        <Hours />
      </div>
    </figure>
  );
}
