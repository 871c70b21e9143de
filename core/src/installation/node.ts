/** The tree of an installation: supply, boards, circuits (ways), loads. */
export const NODE_KINDS = ['supply', 'board', 'circuit', 'load'] as const;
export type NodeKind = (typeof NODE_KINDS)[number];

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
