import type { InstallationNode } from '@loka/contract/installation';
import { printInUnit } from '@loka/core/formats';
import Button from '@mui/material/Button';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { Measured } from '../shared/Measured.js';
import { useNotices } from '../shared/notices.js';
import { useEstimatedPower } from '../shared/useEstimatedPower.js';

/** The power of a way of which only currents are measured: by the nearest voltage, with what follows from what is not known. */
export function EstimatedPanel({ node, nodes }: { node: InstallationNode; nodes: InstallationNode[] }) {
  const { attempt, say } = useNotices();
  const now = useEstimatedPower(node, nodes);
  if (!now) return null;
  const { currents, voltages, estimate } = now;
  const powerFactor = node.powerFactor ?? null;
  const lines = node.phases.split(' ');
  const compute = () =>
    void attempt(async () => {
      const inputs = currents.flatMap((c, i) => {
        const voltage = voltages[i];
        return [
          { name: `current${i + 1}`, pointId: c.id },
          ...(voltage ? [{ name: `voltage${i + 1}`, pointId: voltage.id }] : []),
        ];
      });
      const sum = currents
        // A voltage that is borrowed from another meter may fall silent.
        .map((_, i) => `current${i + 1} * ${voltages[i] ? `first(voltage${i + 1}, nominal)` : 'nominal'}`)
        .join(' + ');
      const made = await api<{ id: number }>('/virtual-meters', 'POST', {
        name: `${node.name} power`.slice(0, 60),
        formula: `(${sum}) * ${powerFactor ?? 0.9}`,
        inputs,
        quantity: 'active-power',
        phase: lines.length > 1 ? 'total' : (lines[0] ?? null),
        nodeId: node.id,
      });
      await mutate(() => true);
      say('Its power is computed from now on, and from what was recorded.', () =>
        api(`/virtual-meters/${made.id}`, 'DELETE'),
      );
    });
  return (
    <section aria-label="Estimated power">
      <h2>About this power</h2>
      {estimate ? (
        <>
          <p>
            <Measured value={estimate.watts} unit="W" />{' '}
            <span className="warn">
              {printInUnit(estimate.low, 'W')} to {printInUnit(estimate.high, 'W')}
            </span>
          </p>
          <p className="muted">
            From its current{' '}
            {voltages.some(Boolean) ? `and the voltage of ${voltages.find(Boolean)?.deviceName}` : ''};
            assumed: {estimate.assumed.join(' and ')}.
          </p>
          <Button variant="outlined" onClick={compute}>
            Compute it from now on
          </Button>
        </>
      ) : (
        <p className="muted">Its current has no reading now.</p>
      )}
    </section>
  );
}
