import { trimPosition } from '@loka/core/calibration';

const [WIDTH, HEIGHT] = [600, 66];
const MARKS = [-10, -3, -1, -0.3, 0, 0.3, 1, 3, 10];

/** One scale from −10 % to +10 % on which nothing has to be switched: what is near zero has most of the room. */
export function TrimScale({ percent, tolerance }: { percent: number | null; tolerance: number }) {
  const x = (p: number) => WIDTH / 2 + trimPosition(p) * (WIDTH / 2 - 22);
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      width="100%"
      role="img"
      aria-label={
        percent === null
          ? 'No deviation yet'
          : `Off by ${percent.toFixed(2)} %, within ±${tolerance} % wanted`
      }
    >
      <rect
        x={x(-tolerance)}
        y={8}
        width={x(tolerance) - x(-tolerance)}
        height={28}
        fill="var(--accent-soft)"
      />
      <path d={`M${x(-10)} 36H${x(10)}`} stroke="var(--ink)" />
      {MARKS.map((m) => (
        <g key={m}>
          <path d={`M${x(m)} ${m === 0 ? 8 : 29}V36`} stroke="var(--ink)" strokeWidth={m === 0 ? 2 : 1} />
          <text x={x(m)} y={54} textAnchor="middle" fontSize="15" fill="var(--ink2)">
            {m > 0 ? '+' : m < 0 ? '−' : ''}
            {Math.abs(m)}
          </text>
        </g>
      ))}
      {percent !== null && (
        <path
          d={`M${x(percent)} 32l-9 -24h18z`}
          fill={Math.abs(percent) <= tolerance ? 'var(--ok)' : 'var(--ink)'}
        />
      )}
    </svg>
  );
}
