import type { SwitchOperation } from '@loka/contract/control';
import { siteClock } from '@loka/core/time';
import { PlainTable } from '../shared/PlainTable.js';
import { useOperations } from '../api/useApi.js';
import { usePeriod } from '../shared/period.js';
import { EmptyState } from '../shared/states.js';

const OUTCOME: Record<SwitchOperation['outcome'], { words: string; level: string }> = {
  waiting: { words: 'waiting for the contact', level: 'warn' },
  confirmed: { words: 'confirmed by the contact', level: 'ok' },
  mismatch: { words: 'contact disagrees', level: 'danger' },
  failed: { words: 'failed', level: 'danger' },
};

/** Every operation of a switch: when, what, why, by whom, and how it ended. @param only of these switches alone */
export function OperationsTable({ only = null }: { only?: ReadonlySet<number> | null }) {
  const { data: all = [] } = useOperations();
  const data = all.filter((o) => only === null || only.has(o.switchId));
  const { zone } = usePeriod();
  return (
    <section aria-label="Operations">
      <h1>Operations</h1>
      {data.length === 0 ? (
        <EmptyState title="Nothing has been switched yet">
          Each operation is kept here with its cause and its outcome.
        </EmptyState>
      ) : (
        <PlainTable head={['Time', 'Switch', 'Told to', 'Why', 'By', 'Outcome']}>
          {data.slice(0, 50).map((operation) => (
            <tr key={operation.id}>
              <td className="measured">{siteClock(zone, operation.at, 'd LLL HH:mm:ss')}</td>
              <td>{operation.switchName}</td>
              <td>{operation.closed ? 'close' : 'open'}</td>
              <td>{operation.reason}</td>
              <td>{operation.who}</td>
              <td className={OUTCOME[operation.outcome].level}>
                {OUTCOME[operation.outcome].words}
                {operation.message && <span className="muted"> {operation.message}</span>}
              </td>
            </tr>
          ))}
        </PlainTable>
      )}
    </section>
  );
}
