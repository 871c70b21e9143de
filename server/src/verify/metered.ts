import { isReadable } from '@loka/core/points';
import { isFormula } from '@loka/core/definitions';
import type { Quantity } from '@loka/core/quantities';
import { LINES, type Channel, type Line, type Metered, type Trace } from '@loka/core/verify';
import type { InstallationNodeEntity } from '../book/installationNode.entity.js';
import type { KnownPoint } from '../book/deviceBook.js';
import { counterPointsOf, powerPointsOf } from '../book/nodePoints.js';

/** The points of one device at a place, by what they measure. */
export interface PlaceMeter {
  deviceId: number;
  name: string;
  points: KnownPoint[];
}

const MEASURES = new Set<Quantity>(['current', 'active-power']);

/** The meters at a place: the one from which its power comes first. Virtual meters and relays measure nothing. */
export function metersAt(points: readonly KnownPoint[]): PlaceMeter[] {
  const read = points.filter((p) => isReadable(p.definition) && !isFormula(p.definition));
  const ids = new Set(
    read
      .filter((p) => MEASURES.has(p.definition.quantity) && p.phase !== 'DC' && p.deviceId !== null)
      .map((p) => p.deviceId as number),
  );
  const meters = [...ids].map((deviceId): PlaceMeter => {
    const own = read.filter((p) => p.deviceId === deviceId);
    return { deviceId, name: own[0]?.deviceName ?? '', points: own };
  });
  const first = powerPointsOf(points)[0]?.deviceId;
  return meters.sort((a, b) => Number(b.deviceId === first) - Number(a.deviceId === first));
}

export const linesOf = (node: Pick<InstallationNodeEntity, 'phases'>): Line[] =>
  node.phases.split(' ').filter((p): p is Line => (LINES as readonly string[]).includes(p));

/** The line that a value is of: its own, or the only one of its place. */
function lineOf(point: KnownPoint, lines: readonly Line[]): Line | null {
  if (point.phase === 'L1' || point.phase === 'L2' || point.phase === 'L3') return point.phase;
  return point.phase === null && lines.length === 1 ? (lines[0] as Line) : null;
}

/** What a meter reads at a place, with its readings. */
export function meteredBy(
  meter: PlaceMeter,
  node: InstallationNodeEntity,
  { trace, voltageOf }: { trace: (point: KnownPoint) => Trace; voltageOf: (line: Line) => Trace | null },
): Metered {
  const lines = linesOf(node);
  const of = (quantity: Quantity, line: Line): Trace | null => {
    const point = meter.points.find((p) => p.definition.quantity === quantity && lineOf(p, lines) === line);
    const found = point ? trace(point) : null;
    return found && found.v.length > 0 ? found : null;
  };
  const channels = lines.flatMap((line): Channel[] => {
    const channel = {
      line,
      voltage: of('voltage', line) ?? voltageOf(line),
      current: of('current', line),
      power: of('active-power', line),
      reactive: of('reactive-power', line),
    };
    return channel.current || channel.power ? [channel] : [];
  });
  const total = meter.points.find((p) => p.definition.quantity === 'active-power' && p.phase === 'total');
  const counter = counterPointsOf(meter.points, 'energy-import')[0];
  return {
    id: node.id,
    name: node.name,
    channels,
    total: total ? trace(total) : null,
    counter: counter ? trace(counter) : null,
  };
}
