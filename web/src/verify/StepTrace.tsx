import { printNumber } from '@loka/core/formats';
import styles from './StepTest.module.css';

interface Reading {
  t: number;
  v: number;
}

const WIDTH = 400;
const HEIGHT = 150;
const [LEFT, RIGHT, TOP, BOTTOM] = [52, 12, 10, 20];

/** The readings around a request: here, at the meter above, and where the step is expected. */
export function StepTrace({
  own,
  now,
  length,
  expected,
  since,
}: {
  own: readonly Reading[];
  now: number;
  length: number;
  /** Level at which it should arrive, W. */
  expected: { level: number; tolerance: number } | null;
  /** When it was asked for. */
  since: number | null;
}) {
  const shown = own.filter((r) => r.t > now - length);
  const values = [...shown.map((r) => r.v), ...(expected ? [expected.level * (1 + expected.tolerance)] : [])];
  const low = Math.min(0, ...values);
  const high = Math.max(10, ...values) * 1.05;
  const x = (t: number) => LEFT + ((t - (now - length)) / length) * (WIDTH - LEFT - RIGHT);
  const y = (v: number) => TOP + ((high - v) / (high - low)) * (HEIGHT - TOP - BOTTOM);
  const steps = shown
    .map((r, i) =>
      i === 0 ? `M${x(r.t).toFixed(1)} ${y(r.v).toFixed(1)}` : `H${x(r.t).toFixed(1)}V${y(r.v).toFixed(1)}`,
    )
    .join('');
  return (
    <svg
      className={styles.trace}
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role="img"
      aria-label="Power over the last seconds"
    >
      {expected && (
        <>
          <rect
            x={LEFT}
            width={WIDTH - LEFT - RIGHT}
            y={y(expected.level * (1 + expected.tolerance))}
            height={Math.max(
              2,
              y(expected.level * (1 - expected.tolerance)) - y(expected.level * (1 + expected.tolerance)),
            )}
            fill="var(--accent-soft)"
          />
          <text x={LEFT + 4} y={y(expected.level) + 4}>
            expected
          </text>
        </>
      )}
      {ticksOf(low, high).map((v) => (
        <g key={v}>
          <path d={`M${LEFT} ${y(v)}H${WIDTH - RIGHT}`} stroke="var(--rule)" />
          <text x={LEFT - 6} y={y(v) + 4} textAnchor="end" className="measured">
            {label(v)}
          </text>
        </g>
      ))}
      <path d={steps && `${steps}H${x(now)}`} fill="none" stroke="var(--accent)" strokeWidth="2" />
      {since !== null && since > now - length && (
        <>
          <path
            d={`M${x(since)} ${TOP}V${HEIGHT - BOTTOM}`}
            stroke="var(--mandatory)"
            strokeDasharray="3 3"
          />
          <text
            x={x(since) + (x(since) > WIDTH - 60 ? -4 : 4)}
            y={TOP + 10}
            textAnchor={x(since) > WIDTH - 60 ? 'end' : 'start'}
            style={{
              fill: 'var(--mandatory)',
              stroke: 'var(--paper)',
              strokeWidth: 4,
              paintOrder: 'stroke',
            }}
          >
            asked
          </text>
        </>
      )}
      <text x={LEFT} y={HEIGHT - 5}>
        −{Math.round(length / 1000)} s
      </text>
      <text x={WIDTH - RIGHT} y={HEIGHT - 5} textAnchor="end">
        now
      </text>
    </svg>
  );
}

function ticksOf(low: number, high: number): number[] {
  const rough = (high - low) / 4;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = ([1, 2, 5, 10].find((n) => n * power >= rough) ?? 10) * power;
  const ticks = [];
  for (let v = Math.ceil(low / step) * step; v <= high; v += step) ticks.push(v);
  return ticks;
}

function label(value: number): string {
  const { digits, unit } = printNumber(value, 'W');
  return `${Number(digits.replace('−', '-'))} ${unit}`.replace('-', '−');
}
