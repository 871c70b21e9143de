import { ticks } from 'd3-array';
import type { Scale } from '../../shared/usualScale.js';
import styles from './Dial.module.css';
import { figureAt, instrumentInWords, isKilo, isOutside, shareOf } from './instrument.js';

/** The pivot of the hand, and the radii of scale and hand. */
const PIVOT = { x: 108, y: 104 };
const OUTER = 92;
const INNER = 82;
const HAND = 84;
const TICK = 5;

/** Where on the quarter circle a value stands: at 0 to the left, at 1 upwards. */
const at = (share: number, radius: number): [number, number] => {
  const angle = Math.PI * (1 - share / 2);
  return [PIVOT.x + radius * Math.cos(angle), PIVOT.y - radius * Math.sin(angle)];
};
const point = (share: number, radius: number): string =>
  at(share, radius)
    .map((v) => v.toFixed(1))
    .join(' ');

/** A ring segment from one share of the scale to another. */
const segment = (from: number, to: number): string =>
  `M${point(from, INNER)}L${point(from, OUTER)}A${OUTER} ${OUTER} 0 0 1 ${point(to, OUTER)}L${point(to, INNER)}A${INNER} ${INNER} 0 0 0 ${point(from, INNER)}Z`;

/** A quarter-circle instrument as on a switchboard: the band filled, what is outside it open, the nominal value a triangle. */
export function Dial({
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
  const outside = isOutside(scale, value);
  const marks = ticks(scale.low, scale.high, 4);
  const kilo = isKilo(scale);
  const text = (v: number) => figureAt(scale, v);
  const [from, to, nominal] = [share(scale.from), share(scale.to), share(scale.nominal)];
  return (
    <svg
      viewBox="0 0 124 110"
      className={styles.dial}
      role="img"
      aria-label={instrumentInWords(label, scale, value)}
    >
      {from > 0 && <path d={segment(0, from)} className={styles.open} />}
      <path d={segment(from, to)} className={styles.band} />
      {to < 1 && <path d={segment(to, 1)} className={styles.open} data-outside={scale.outside} />}
      {value !== null && (
        <path
          d={`M${PIVOT.x} ${PIVOT.y}L${point(share(value), HAND)}`}
          className={styles.hand}
          data-outside={outside ? scale.outside : undefined}
        />
      )}
      {marks.map((v) => {
        const s = share(v);
        const [x, y] = at(s, INNER - TICK - 8);
        return (
          <g key={v}>
            <path d={`M${point(s, INNER)}L${point(s, INNER - TICK)}`} className={styles.tick} />
            <text x={x} y={y + 3} className={styles.text}>
              {text(v)}
            </text>
          </g>
        );
      })}
      <text x="2" y="108" className={styles.unit}>
        {kilo ? `k${unit}` : unit}
      </text>
      <path
        d="M0 0l-4 -7h8z"
        transform={`translate(${point(nominal, OUTER + 1).replace(' ', ',')}) rotate(${(90 * nominal - 90).toFixed(1)})`}
        className={styles.nominal}
      />
      <path d={`M${PIVOT.x} ${PIVOT.y}m-15 0a15 15 0 0 1 15 -15v15z`} className={styles.pivot} />
    </svg>
  );
}
