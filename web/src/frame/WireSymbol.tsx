import type { InstallationNode } from '@loka/contract/installation';

/**
 * The stretch of the single-line drawing that belongs to a row: the busbar on the left, and the branch with its
 * symbol after IEC 60617 (circuit breaker: the cross on the line; board: a frame with its mark).
 */
export function WireSymbol({ node }: { node: InstallationNode }) {
  const lines = node.phases.split(' ').map((line) => `var(--${line.toLowerCase()})`);
  if (node.kind === 'load')
    return (
      <svg width="50" height="24" viewBox="0 0 50 24" aria-hidden>
        <path d="M30 0v12h12" fill="none" stroke="var(--strong-rule)" />
      </svg>
    );
  return (
    <svg width="50" height="34" viewBox="0 0 50 34" aria-hidden>
      <path d={node.kind === 'supply' ? 'M11 12v22' : 'M11 0v34'} stroke="var(--ink)" strokeWidth="3" fill="none" />
      {node.kind === 'supply' && <circle cx="11" cy="8" r="5" fill="var(--sheet)" stroke="var(--ink)" strokeWidth="1.3" />}
      {node.kind === 'board' && (
        <>
          <path d="M11 17h11" stroke="var(--ink)" strokeWidth="1.3" />
          <rect x="22" y="9" width="24" height="16" fill="var(--sheet)" stroke="var(--ink)" strokeWidth="1.3" />
          <text x="34" y="21" textAnchor="middle" fontSize="10.5" fontFamily="IBM Plex Mono" fontWeight="500" fill="var(--ink)">
            {node.way.slice(0, 3)}
          </text>
        </>
      )}
      {node.kind === 'circuit' && (
        <>
          {lines.map((colour, i) => {
            const y = 17 + (i - (lines.length - 1) / 2) * 3;
            return (
              <g key={i}>
                <path d={`M12 ${y}h34`} stroke="var(--outline)" strokeWidth="3.4" />
                <path d={`M12 ${y}h34`} stroke={colour} strokeWidth="2" />
              </g>
            );
          })}
          <path d="M25 13l8 8m0-8l-8 8" stroke="var(--ink)" strokeWidth="1.4" />
        </>
      )}
    </svg>
  );
}
