import type { InstallationNode } from '@loka/contract/installation';
import type { Rails } from './rails.js';

/** Distance from one busbar to the next one down the tree. */
const STEP = 9;
const LEFT = 11;
const HEIGHT = 34;

/**
 * The stretch of the single-line drawing that belongs to a row: the busbars that run past it, and its branch with
 * its symbol after IEC 60617 (circuit breaker: the cross on the line; board: a frame with its mark).
 */
export function WireSymbol({ node, rails }: { node: InstallationNode; rails: Rails }) {
  const depth = rails.length - 1;
  const bus = LEFT + (depth - 1) * STEP;
  const height = node.kind === 'load' ? 24 : HEIGHT;
  const width = bus + (node.kind === 'board' ? 36 : 40);
  // A bus of the level above goes past where more hangs on it; the row's own bus ends at its last branch.
  const past = rails
    .slice(1, -1)
    .flatMap((more, level) => (more ? [`M${LEFT + level * STEP} 0V${height}`] : []));
  const own = `M${bus} 0V${rails[depth] ? height : height / 2}`;
  const thin = node.kind === 'load';
  return (
    <svg
      width={node.kind === 'supply' ? 40 : width}
      height={height}
      viewBox={`0 0 ${node.kind === 'supply' ? 40 : width} ${height}`}
      aria-hidden
    >
      {node.kind === 'supply' ? (
        <Supply />
      ) : (
        <path d={past.join('') + (thin ? '' : own)} stroke="var(--ink)" strokeWidth="3" fill="none" />
      )}
      {node.kind === 'load' && <path d={`${own}M${bus} 12h12`} fill="none" stroke="var(--strong-rule)" />}
      {node.kind === 'board' && <Board mark={node.way} bus={bus} />}
      {node.kind === 'circuit' && <Way phases={node.phases} bus={bus} />}
    </svg>
  );
}

const Supply = () => (
  <>
    <path d={`M${LEFT} 14V${HEIGHT}`} stroke="var(--ink)" strokeWidth="3" />
    <circle cx={LEFT} cy="11" r="6" fill="var(--sheet)" stroke="var(--ink)" strokeWidth="1.4" />
  </>
);

const Board = ({ mark, bus }: { mark: string; bus: number }) => (
  <>
    <path d={`M${bus} 17h6M${bus + STEP} 25v9`} stroke="var(--ink)" strokeWidth="3" />
    <rect
      x={bus + 5}
      y="9"
      width="26"
      height="16"
      fill="var(--sheet)"
      stroke="var(--ink)"
      strokeWidth="1.4"
    />
    <text
      x={bus + 18}
      y="21"
      textAnchor="middle"
      fontSize="10.5"
      fontFamily="IBM Plex Mono"
      fontWeight="500"
      fill="var(--ink)"
    >
      {mark.slice(0, 3)}
    </text>
  </>
);

function Way({ phases, bus }: { phases: string; bus: number }) {
  const lines = phases.split(' ').map((line) => `var(--${line.toLowerCase()})`);
  return (
    <>
      {lines.map((colour, i) => {
        const y = HEIGHT / 2 + (i - (lines.length - 1) / 2) * 3;
        return (
          <g key={i}>
            <path d={`M${bus + 1.5} ${y}h35`} stroke="var(--outline)" strokeWidth="3.4" />
            <path d={`M${bus + 1.5} ${y}h35`} stroke={colour} strokeWidth="2" />
          </g>
        );
      })}
      <path d={`M${bus + 14} 13l8 8m0-8l-8 8`} stroke="var(--ink)" strokeWidth="1.4" />
    </>
  );
}
