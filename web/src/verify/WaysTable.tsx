import type { Verification } from '@loka/contract/verify';

type Tried = NonNullable<Verification['tried']>;

const CELL = 15;
const LEFT = 40;
const TOP = 44;
/** Ways that are farther off than this are a dot, degrees. */
const FAR = 90;

/** All 48 ways to fit three clamps, tried on the readings: the bigger the square, the better it fits. */
export function WaysTable({ tried }: { tried: Tried }) {
  const labels = tried.readings.map((r) => r.line);
  const orders = [...new Set(tried.ways.map((w) => w.on.join()))].sort(
    (a, b) =>
      Number(b === labels.join()) - Number(a === labels.join()) ||
      moved(a, labels) - moved(b, labels) ||
      (a < b ? -1 : 1),
  );
  const turns = Array.from({ length: 8 }, (_, bits) => [0, 1, 2].map((i) => (bits & (1 << i)) !== 0)).sort(
    (a, b) => a.filter(Boolean).length - b.filter(Boolean).length,
  );
  const best = tried.ways[0];
  const width = LEFT + orders.length * CELL + 4;
  const height = TOP + turns.length * CELL + 4;
  const size = (off: number) => Math.max(1.5, (CELL - 3) * (1 - Math.min(1, off / FAR)) ** 1.5);
  return (
    <svg
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={`Of 48 ways to fit the clamps, I1 to I3 on ${best?.on.join(', ')} fits best, ${best?.off.toFixed(0)} degrees off; the next is ${tried.apart?.toFixed(0) ?? 'none'} degrees farther.`}
    >
      {labels.map((label, row) => (
        <text key={label} x={LEFT - 6} y={10 + row * 12} textAnchor="end">
          I{label[1]} on
        </text>
      ))}
      {orders.map((order, column) =>
        order.split(',').map((line, row) => (
          <text
            key={`${order} ${row}`}
            x={LEFT + (column + 0.5) * CELL}
            y={10 + row * 12}
            textAnchor="middle"
            style={{
              fontWeight: best?.on.join() === order ? 600 : 400,
              fill: best?.on.join() === order ? 'var(--ink)' : 'var(--ink2)',
            }}
          >
            {line[1]}
          </text>
        )),
      )}
      {turns.map((turned, row) => (
        <text key={row} x={LEFT - 6} y={TOP + (row + 0.5) * CELL + 4} textAnchor="end">
          {turned.every((t) => !t)
            ? 'none'
            : turned.every(Boolean)
              ? 'all'
              : labels
                  .filter((_, i) => turned[i])
                  .map((l) => l[1])
                  .join(' ')}
        </text>
      ))}
      {turns.map((turned, row) =>
        orders.map((order, column) => {
          const way = tried.ways.find((w) => w.on.join() === order && String(w.turned) === String(turned));
          if (!way) return null;
          const side = size(way.off);
          const isBest = way === best;
          const isLabel = order === labels.join() && turned.every((t) => !t);
          const [cx, cy] = [LEFT + (column + 0.5) * CELL, TOP + (row + 0.5) * CELL];
          return (
            <g key={order}>
              <rect
                x={cx - side / 2}
                y={cy - side / 2}
                width={side}
                height={side}
                fill={isBest ? (isLabel ? 'var(--ok)' : 'var(--danger)') : 'var(--ink3)'}
              />
              {isLabel && (
                <rect
                  x={cx - CELL / 2 + 1}
                  y={cy - CELL / 2 + 1}
                  width={CELL - 2}
                  height={CELL - 2}
                  fill="none"
                  stroke="var(--ok)"
                  strokeWidth="1.4"
                />
              )}
            </g>
          );
        }),
      )}
    </svg>
  );
}

const moved = (order: string, labels: readonly string[]): number =>
  order.split(',').filter((line, i) => line !== labels[i]).length;
