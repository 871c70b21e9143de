import type { Fitting } from '@loka/core/installation';
import styles from './FitPage.module.css';

const LINE_COLOUR: Record<string, string> = {
  L1: 'var(--l1)',
  L2: 'var(--l2)',
  L3: 'var(--l3)',
  N: 'var(--n)',
};

/**
 * How a device goes on a circuit: the breaker on the left, the load on the right, one line a conductor. The clamp is
 * around one line conductor with its arrow towards the load; a meter in series has the load current go through it.
 */
export function FitDrawing({ fitting, phases, turns }: { fitting: Fitting; phases: string; turns: number }) {
  const dc = fitting === 'dc-sensor';
  const lines = dc ? ['+', '−'] : [...phases.split(' '), 'N'];
  const top = 44;
  const gap = 34;
  const y = (i: number) => top + i * gap;
  const height = y(lines.length - 1) + (fitting === 'clamp' ? 58 : 30);
  const words = WORDS[fitting](phases.split(' ').length, turns);
  return (
    <figure style={{ margin: 0 }}>
      <svg viewBox={`0 0 340 ${height}`} className={styles.drawing} role="img" aria-label={words}>
        <text x="14" y="20">
          protective device
        </text>
        <text x="270" y="20">
          load
        </text>
        {lines.map((line, i) => (
          <g key={line}>
            <text x="8" y={y(i) + 4}>
              {line}
            </text>
            <path
              d={`M26 ${y(i)}H268`}
              stroke={LINE_COLOUR[line] ?? 'var(--ink)'}
              strokeWidth="3"
              fill="none"
            />
            {line !== 'N' && line !== '−' && <Breaker y={y(i)} />}
          </g>
        ))}
        <rect
          x="268"
          y={top - 14}
          width="52"
          height={(lines.length - 1) * gap + 28}
          fill="var(--sheet)"
          stroke="var(--ink)"
          strokeWidth="1.5"
        />
        {lines.map((line, i) => {
          const isLine = line !== 'N' && line !== '−';
          if ((fitting === 'clamp' || dc) && isLine) return <Clamp key={line} y={y(i)} turns={turns} />;
          return null;
        })}
        {(fitting === 'series-meter' || fitting === 'three-phase-meter') && (
          <Meter top={top} bottom={y(lines.length - 1)} lines={lines} y={y} />
        )}
        {fitting === 'plug-meter' && <Plug top={top} bottom={y(lines.length - 1)} />}
        {fitting === 'clamp' && (
          <text x="96" y={height - 14} style={{ fill: 'var(--danger)' }}>
            never around N, never around both
          </text>
        )}
      </svg>
      <figcaption className="muted">{words}</figcaption>
    </figure>
  );
}

const WORDS: Record<Fitting, (lines: number, turns: number) => string> = {
  clamp: (lines, turns) =>
    `${lines > 1 ? 'One clamp around each line conductor' : 'Around the one line conductor alone'}, its arrow towards the load, jaws closed.${turns > 1 ? ` ${turns} turns: the reading is ${turns} times the current, so set the scaling.` : ''}`,
  'series-meter': () =>
    'Isolate first. The line goes in on one side and out to the load on the other, so that the load current passes through the meter. No bridge past it.',
  'three-phase-meter': (lines) =>
    lines > 1
      ? 'Isolate first. Each line in on one side, out on the other, in the same order; neutral to its own terminal.'
      : 'Isolate first. This circuit takes one of its three channels; the voltage tap must be on the same phase as the current.',
  'plug-meter': () => 'Between socket and plug. For an appliance within the plug’s rating.',
  'dc-sensor': () =>
    'Around plus alone, its arrow in the direction that is to count as positive; zero it with no current before it is used.',
};

const Breaker = ({ y }: { y: number }) => (
  <g>
    <rect x="42" y={y - 6} width="26" height="12" fill="var(--sheet)" />
    <path
      d={`M42 ${y}l26 -9M45 ${y - 4}l6 6M51 ${y - 4}l-6 6`}
      stroke="var(--ink)"
      strokeWidth="1.6"
      fill="none"
    />
  </g>
);

const Clamp = ({ y, turns }: { y: number; turns: number }) => (
  <g>
    {Array.from({ length: Math.min(4, turns) }, (_, i) => (
      <ellipse
        key={i}
        cx={140 + i * 12}
        cy={y}
        rx="8"
        ry="13"
        fill="none"
        stroke="var(--accent)"
        strokeWidth="3"
      />
    ))}
    <path d={`M${186} ${y - 12}h34m-9 -5l9 5l-9 5`} stroke="var(--accent)" strokeWidth="2" fill="none" />
    <text x="176" y={y - 20}>
      to the load
    </text>
  </g>
);

function Meter({
  top,
  bottom,
  lines,
  y,
}: {
  top: number;
  bottom: number;
  lines: string[];
  y: (i: number) => number;
}) {
  return (
    <g>
      <rect
        x="120"
        y={top - 16}
        width="84"
        height={bottom - top + 32}
        fill="var(--sheet)"
        stroke="var(--accent)"
        strokeWidth="2.5"
      />
      {lines.map((line, i) =>
        line === 'N' ? (
          <path
            key={line}
            d={`M120 ${y(i)}H204`}
            stroke={LINE_COLOUR.N}
            strokeWidth="2"
            strokeDasharray="3 3"
          />
        ) : (
          <g key={line}>
            <path d={`M120 ${y(i)}h14m50 0h20`} stroke={LINE_COLOUR[line] ?? 'var(--ink)'} strokeWidth="3" />
            <text x="138" y={y(i) + 4}>
              in → out
            </text>
          </g>
        ),
      )}
    </g>
  );
}

const Plug = ({ top, bottom }: { top: number; bottom: number }) => (
  <g>
    <rect
      x="130"
      y={top - 16}
      width="60"
      height={bottom - top + 32}
      rx="12"
      fill="var(--sheet)"
      stroke="var(--accent)"
      strokeWidth="2.5"
    />
    <text x="144" y={(top + bottom) / 2 + 4}>
      plug
    </text>
  </g>
);
