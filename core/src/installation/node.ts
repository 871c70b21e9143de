/** The tree of an installation: supply, boards, circuits (ways), loads. */
export const NODE_KINDS = ['supply', 'board', 'circuit', 'load'] as const;
export type NodeKind = (typeof NODE_KINDS)[number];

export const CIRCUIT_PHASES = ['L1', 'L2', 'L3', 'L1 L2 L3'] as const;
export type CircuitPhases = (typeof CIRCUIT_PHASES)[number];

/** Which kinds may hang below which. */
const BELOW: Record<NodeKind, readonly NodeKind[]> = {
  supply: ['board'],
  board: ['board', 'circuit'],
  circuit: ['board', 'load'],
  load: [],
};

export const mayHangBelow = (child: NodeKind, parent: NodeKind): boolean => BELOW[parent].includes(child);

/** Number of line conductors. */
export const phaseCount = (phases: string): number => phases.split(' ').filter(Boolean).length;
