import { isReadable } from '@loka/core/points';
import type { Point } from '@loka/contract/points';
import type { InstallationNode } from '@loka/contract/installation';
import type { RegisterMap } from '@loka/contract/registers';
import type { Phase } from '@loka/core/quantities';

/** The number of the channel that a value belongs to by its key ("current-2"), or null when it has none. */
const channelOf = ({ key }: Point): string | null => /-(\d+)$/.exec(key)?.[1] ?? null;

const LINES = ['L1', 'L2', 'L3'];
/** The line conductor that a value is on, where the map or its assignment says one. */
const lineOf = (point: Point): string | null => {
  const phase = point.phase ?? point.definition.phase;
  return phase !== null && LINES.includes(phase) ? phase : null;
};

/**
 * The values of a device that most likely belong to a circuit that is being fitted: those that belong nowhere yet;
 * of a device with several channels, the first channel that is free; of a three-phase meter on a circuit of one line
 * (three such circuits may share it), those of that line.
 */
export function proposedValues(points: readonly Point[], phases = ''): Point[] {
  const free = points.filter((p) => p.nodeId === null && isReadable(p.definition));
  const threePhase = new Set(points.map(lineOf).filter((line) => line !== null)).size > 1;
  if (threePhase && LINES.includes(phases)) return free.filter((p) => lineOf(p) === phases);
  const channels = new Set(free.map(channelOf).filter((c) => c !== null));
  if (channels.size < 2) return free;
  const first = [...channels].sort((a, b) => Number(a) - Number(b))[0];
  return free.filter((p) => channelOf(p) === first);
}

/** Quantities that show a load; a device with none of them free has nothing left to measure a circuit with. */
const OF_A_LOAD = new Set(['active-power', 'current']);

/** Whether values can be those of a circuit: a load's, and where it has three lines, of a meter that knows them. */
const canMeasure = (values: readonly Point[], phases: string): boolean =>
  values.some((p) => OF_A_LOAD.has(p.definition.quantity)) &&
  (!phases.includes(' ') || values.some((p) => lineOf(p) !== null));

/**
 * The device that most likely goes on a circuit: the one that has values there, else the first that has values of a
 * load on such a circuit which belong nowhere yet.
 */
export function likelyDevice(
  points: readonly Point[],
  { id: nodeId, phases }: Pick<InstallationNode, 'id' | 'phases'>,
): number | undefined {
  const ids = [...new Set(points.map((p) => p.deviceId))].filter((id) => id !== null);
  const of = (id: number) => points.filter((p) => p.deviceId === id);
  return (
    ids.find((id) => of(id).some((p) => p.nodeId === nodeId)) ??
    ids.find((id) => canMeasure(proposedValues(of(id), phases), phases))
  );
}

/** The conductor of a value at a circuit: the circuit's own where it has one line and the map says nothing. */
export function phaseFor(point: Point, node: InstallationNode): Phase | null {
  const single = !node.phases.includes(' ');
  return single && point.definition.phase === null ? (node.phases as Phase) : null;
}

/** The map of the kind of device that most likely goes on a circuit: with three lines where it has three, with power. */
export function likelyMap(maps: readonly RegisterMap[], node: InstallationNode): RegisterMap | undefined {
  const three = node.phases.includes(' ');
  const fits = maps.filter((map) => {
    const values = [...map.points, ...map.messages];
    const hasPower = values.some((v) => v.quantity === 'active-power');
    return hasPower && three === values.some((v) => v.phase === 'L3');
  });
  // Of several, the one that tells most.
  const size = (map: RegisterMap) => map.points.length + map.messages.length;
  return fits.sort((a, b) => size(b) - size(a))[0] ?? maps[0];
}
