import { ticks } from 'd3-array';
import type { Scale } from '../../shared/usualScale.js';
import { figureAt, instrumentInWords, isKilo, isOutside, shareOf } from './instrument.js';
import styles from './Tube.module.css';

const TOP = 8;
const HEIGHT = 94;
const LEFT = 34;
const WIDTH = 18;

/** A level that fills from below, with marks at the ends of its band. */
export function Tube({
  value,
  scale,
  unit,
  label,
}: {
  value: number | null;
  scale: Scale;
  unit: string;
  label: string;
}) {
  const share = (v: number) => shareOf(scale, v);
  const y = (v: number) => TOP + HEIGHT * (1 - share(v));
  const outside = isOutside(scale, value);
  const kilo = isKilo(scale);
  const text = (v: number) => figureAt(scale, v);
  // It fills from nought where the scale has one: what is given back hangs below it.
  const zero = y(Math.min(Math.max(0, scale.low), scale.high));
  const ends: [number, string][] = [
    ...(scale.from > scale.low ? [[scale.from, 'least'] as [number, string]] : []),
    ...(scale.to < scale.high ? [[scale.to, 'most'] as [number, string]] : []),
  ];
  return (
    <svg
      viewBox="0 0 92 110"
      className={styles.tube}
      role="img"
      aria-label={instrumentInWords(label, scale, value)}
    >
      <rect x={LEFT} y={TOP} width={WIDTH} height={HEIGHT} className={styles.glass} />
      {value !== null && (
        <rect
          x={LEFT}
          y={Math.min(y(value), zero)}
          width={WIDTH}
          height={Math.abs(y(value) - zero)}
          className={styles.fill}
          data-outside={outside ? scale.outside : undefined}
        />
      )}
      {value !== null && <path d={`M${LEFT} ${y(value)}h${WIDTH}`} className={styles.surface} />}
      {ticks(scale.low, scale.high, 3).map((v) => (
        <g key={v}>
          <path d={`M${LEFT - 5} ${y(v)}h5`} className={styles.tick} />
          <text x={LEFT - 7} y={y(v) + 3} className={styles.text}>
            {text(v)}
          </text>
        </g>
      ))}
      {ends.map(([v, words]) => (
        <g key={words}>
          <path d={`M${LEFT} ${y(v)}h${WIDTH}`} className={styles.mark} />
          <path d={`M${LEFT + WIDTH} ${y(v)}l6 -3.5v7z`} className={styles.arrow} />
          <text x={LEFT + WIDTH + 9} y={y(v) + 3} className={styles.end}>
            {`${text(v)} ${kilo ? 'k' : ''}${unit}`}
          </text>
        </g>
      ))}
    </svg>
  );
}
