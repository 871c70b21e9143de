import type { PeriodBalance } from '@loka/contract/balance';
import type { InstallationNode } from '@loka/contract/installation';
import { PURPOSE_WORDS } from '../shared/purposeWords.js';
import { pathUp } from '../shared/nodes.js';

/** Less than this, Wh, is nothing. */
const LEAST = 0.05;

/** What uses are put together by. */
export const GROUPINGS = ['purpose', 'board', 'phase', 'use'] as const;
export type Grouping = (typeof GROUPINGS)[number];

export interface UseGroup {
  key: string;
  name: string;
  uses: PeriodBalance['uses'];
}

const UNMETERED = 'unmetered';

/** The group of a use, and how it is called. */
function groupOf(
  use: PeriodBalance['uses'][number],
  nodes: readonly InstallationNode[],
  by: Grouping,
): [key: string, name: string] {
  const node = nodes.find((n) => n.id === use.nodeId);
  if (use.kind === 'unmetered' && by !== 'board') return [UNMETERED, 'Not metered'];
  switch (by) {
    case 'use':
      return [use.key, node?.name ?? ''];
    case 'purpose': {
      const purpose = node?.purposeShown ?? 'other';
      return [purpose, PURPOSE_WORDS[purpose]];
    }
    case 'board': {
      const board = pathUp(nodes, use.nodeId).find((n) => n.kind === 'board' || n.kind === 'supply');
      const own =
        board?.kind === 'supply' ? nodes.find((n) => n.kind === 'board' && n.parentId === board.id) : board;
      return [String(own?.id ?? use.nodeId), own?.name ?? ''];
    }
    case 'phase':
      return [node?.phases ?? '', (node?.phases ?? '').replaceAll(' ', ' · ')];
  }
}

/** Uses put together, the largest first, what nobody meters last. What goes back and what is stored are no uses. */
export function groupsOf(
  uses: PeriodBalance['uses'],
  nodes: readonly InstallationNode[],
  by: Grouping,
): UseGroup[] {
  const groups = new Map<string, UseGroup>();
  for (const use of uses) {
    if (!isConsumption(use, nodes)) continue;
    const [key, name] = groupOf(use, nodes, by);
    const group = groups.get(key) ?? { key, name, uses: [] };
    group.uses.push(use);
    groups.set(key, group);
  }
  return [...groups.values()]
    .filter((g) => g.uses.some(({ values }) => values.some((v) => v === null || Math.abs(v) >= LEAST)))
    .sort(
      (a, b) =>
        Number(a.key === UNMETERED) - Number(b.key === UNMETERED) || totalOf(b.uses) - totalOf(a.uses),
    );
}

export const isUnmetered = (group: UseGroup): boolean => group.key === UNMETERED;

/** Whether it was used up: not given back to the supply, and not stored. */
export function isConsumption(
  use: Pick<PeriodBalance['uses'][number], 'kind' | 'nodeId'>,
  nodes: readonly InstallationNode[],
): boolean {
  return use.kind !== 'back' && nodes.find((n) => n.id === use.nodeId)?.purposeShown !== 'storage'
    ? true
    : use.kind === 'unmetered';
}

/** The parts of several uses together; null where one of them is not known. */
export function columnOf(uses: PeriodBalance['uses']): (number | null)[] {
  const [first] = uses;
  return (first?.values ?? []).map((_, i) =>
    uses.reduce<number | null>((sum, { values }) => {
      const value = values[i];
      return sum === null || value == null ? null : sum + value;
    }, 0),
  );
}

/** All that is known of uses, Wh. */
export const totalOf = (uses: readonly { values: (number | null)[] }[]): number =>
  uses.reduce((sum, { values }) => sum + values.reduce<number>((s, v) => s + (v ?? 0), 0), 0);
