import type { InstallationNode } from '@loka/contract/installation';
import type { Point } from '@loka/contract/points';
import { quantityInfo, type Quantity } from '@loka/core/quantities';
import { useSearchParams } from 'react-router';

/** The place of the installation that the spine has selected; it lives in the URL. */
export function useSelection(): [number | null, (id: number | null) => void] {
  const [search, setSearch] = useSearchParams();
  const at = Number(search.get('at'));
  const select = (id: number | null) =>
    setSearch((before) => {
      if (id === null) before.delete('at');
      else before.set('at', String(id));
      return before;
    });
  return [Number.isInteger(at) && at > 0 ? at : null, select];
}

export const childrenOf = (nodes: readonly InstallationNode[], id: number | null): InstallationNode[] =>
  nodes.filter((n) => n.parentId === id);

/** The node itself and all that it hangs on, nearest first. */
export function pathUp(nodes: readonly InstallationNode[], id: number | null): InstallationNode[] {
  const node = nodes.find((n) => n.id === id);
  return node ? [node, ...pathUp(nodes, node.parentId)] : [];
}

/** The node itself and everything below it. */
export function below(nodes: readonly InstallationNode[], id: number): InstallationNode[] {
  const node = nodes.find((n) => n.id === id);
  return node ? [node, ...childrenOf(nodes, id).flatMap((child) => below(nodes, child.id))] : [];
}

/**
 * Whether power is the wrong way round at a place: negative, and nothing in it or below it feeds in. Some watts are noise.
 */
export const isReversed = (nodes: readonly InstallationNode[], id: number, power: number | null): boolean =>
  power !== null && power < -5 && !below(nodes, id).some((node) => node.feedsIn);

/**
 * The points from which the power of a board comes that has no meter of its own: the first metered places met
 * on the way down, so that nothing is counted twice.
 */
export function meteredBelow(nodes: readonly InstallationNode[], id: number): number[] {
  return meteredParts(nodes, id).flatMap((part) => part.powerPointIds);
}

/** The metered places nearest below a node, so that nothing is counted twice. */
export function meteredParts(nodes: readonly InstallationNode[], id: number): InstallationNode[] {
  return childrenOf(nodes, id).flatMap((child) =>
    child.powerPointIds.length > 0 ? [child] : meteredParts(nodes, child.id),
  );
}

/** "2 · Walk-in cold room" */
export const nodeTitle = (node: InstallationNode): string =>
  node.kind === 'circuit' && node.way
    ? `Way ${node.way} · ${node.name}`
    : node.kind === 'board' && node.way
      ? `${node.way} · ${node.name}`
      : node.name;

/** The nearest point of a quantity on one of the conductors of a node: its own, or one further up the tree. */
export function nearestPoint(
  nodes: readonly InstallationNode[],
  points: readonly Point[],
  node: InstallationNode,
  quantity: Quantity,
): Point | undefined {
  const lines = node.phases.split(' ');
  for (const place of pathUp(nodes, node.id)) {
    const found = points.find(
      (p) =>
        p.nodeId === place.id &&
        p.definition.quantity === quantity &&
        (p.phase === null || p.phase === 'total' || lines.includes(p.phase)),
    );
    if (found) return found;
  }
  return undefined;
}

export const unitOf = (point: Point): string => quantityInfo(point.definition.quantity).unit;

/** "Clamp node, Current 2" */
export const pointTitle = (point: Point): string => `${point.deviceName}, ${point.definition.name}`;

/** The protective device as a board schedule has it: "C32", "RCBO 16 A", "63 A" of a switch or a fuse; empty where none is known. */
export function protectionOf({
  protectiveDevice,
  ratedCurrent,
}: Pick<InstallationNode, 'protectiveDevice' | 'ratedCurrent'>): string {
  if (!protectiveDevice || !ratedCurrent) return '';
  if (protectiveDevice.length === 1) return `${protectiveDevice}${ratedCurrent}`;
  return protectiveDevice.startsWith('RC') ? `${protectiveDevice} ${ratedCurrent} A` : `${ratedCurrent} A`;
}

/** "Way 3 · Office and network: Current L1, Clamp node": by its circuit where it has one, the device after it. */
export function placedTitle(nodes: readonly InstallationNode[], point: Point): string {
  const at = nodes.find((n) => n.id === point.nodeId);
  return at
    ? `${nodeTitle(at)}: ${point.definition.name}, ${point.deviceName}`
    : `${pointTitle(point)}, not placed`;
}
