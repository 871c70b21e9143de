import type { InstallationNode } from '@loka/contract/installation';
import type { Point } from '@loka/contract/points';
import { stepOf } from '@loka/core/definitions';
import { printCounter } from '@loka/core/formats';
import { quantityInfo } from '@loka/core/quantities';
import { useReading } from '../api/live.js';

/** The counters of a place as they stand on the meter's face, to be held against it. */
export function CountersPanel({ node, points }: { node: InstallationNode; points: Point[] }) {
  const counters = points.filter(
    (p) => p.nodeId === node.id && quantityInfo(p.definition.quantity).kind === 'counter',
  );
  if (counters.length === 0) return null;
  return (
    <section aria-label="On the meter’s face">
      <h2>On the meter’s face</h2>
      {counters.map((point) => (
        <Face key={point.id} point={point} />
      ))}
    </section>
  );
}

function Face({ point }: { point: Point }) {
  const reading = useReading(point.id);
  return (
    <p style={{ display: 'flex', justifyContent: 'space-between', margin: 0 }}>
      <span>{point.definition.name}</span>
      <span className="measured">
        {reading?.raw == null ? '–' : printCounter(reading.raw, stepOf(point.definition, reading.raw))}
      </span>
    </p>
  );
}
