import type { InstallationNode } from '@loka/contract/installation';
import { siteDay } from '@loka/core/time';
import Button from '@mui/material/Button';
import { lazy, Suspense, useCallback, useState } from 'react';
import { PlainTable } from '../shared/PlainTable.js';
import { useEnergy, useSparklines, useSwitches } from '../api/useApi.js';
import { useNow } from '../api/clock.js';
import { usePeriod } from '../shared/period.js';
import { below, childrenOf, meteredBelow, nodeTitle } from '../shared/nodes.js';
import { EmptyState } from '../shared/states.js';
import { RemainderRow } from './RemainderRow.js';
import { ScheduleRow } from './ScheduleRow.js';
import { ToSeeTo } from './ToSeeTo.js';
import styles from './BoardSchedule.module.css';

// A form comes when it is asked for: the first page waits for none.
const NodeForm = lazy(() => import('../installation/NodeForm.js'));
const DemandDrawing = lazy(() => import('./DemandDrawing.js'));
const HOUR = 3_600_000;

/** The live schedule of a board and of the boards below it. */
export function BoardSchedule({
  nodes,
  subject,
}: {
  nodes: InstallationNode[];
  subject: InstallationNode | null;
}) {
  const { zone } = usePeriod();
  const now = useNow(60_000);
  const quarter = Math.floor(now / (15 * 60_000)) * 15 * 60_000 + 15 * 60_000;
  const { data: energy } = useEnergy(siteDay(zone, now).start, siteDay(zone, now).end);
  const { data: sparklines } = useSparklines(quarter - 24 * HOUR, quarter);
  const { data: switches } = useSwitches();
  const [form, setForm] = useState<{
    kind: 'board' | 'circuit';
    parent: InstallationNode;
    node?: InstallationNode;
  } | null>(null);
  const edit = useCallback(
    (way: InstallationNode) => {
      const parent = nodes.find((n) => n.id === way.parentId);
      if (parent) setForm({ kind: 'circuit', parent, node: way });
    },
    [nodes],
  );
  const boards = subject
    ? below(nodes, subject.id).filter((n) => n.kind === 'board')
    : nodes.filter((n) => n.kind === 'board');
  const supply = nodes.find((n) => n.kind === 'supply');
  if (boards.length === 0)
    return (
      <EmptyState
        title="No board yet"
        action={
          supply && (
            <Button variant="contained" onClick={() => setForm({ kind: 'board', parent: supply })}>
              Add a board
            </Button>
          )
        }
      >
        The schedule lists the ways of a board with what flows in each.
        {form && (
          <Suspense fallback={null}>
            <NodeForm kind={form.kind} parent={form.parent} onClose={() => setForm(null)} />
          </Suspense>
        )}
      </EmptyState>
    );
  return (
    <div className={styles.page}>
      <div className={styles.columns}>
        <div className={styles.schedules}>
          {boards.map((board) => {
            const ways = childrenOf(nodes, board.id).filter((n) => n.kind === 'circuit');
            const metered = ways.filter((w) => w.powerPointIds.length > 0).length;
            return (
              <section key={board.id} aria-label={board.name}>
                <div className={styles.title}>
                  <h1>{nodeTitle(board)}</h1>
                  <span className="muted">
                    {board.phases === 'L1 L2 L3' ? '3 × ' : ''}
                    {board.ratedCurrent ? `${board.ratedCurrent} A, ` : ''}
                    {ways.length} way{ways.length === 1 ? '' : 's'}, {metered} metered
                  </span>
                  <span className={styles.space} />
                  <Button onClick={() => setForm({ kind: 'circuit', parent: board })}>Add a way</Button>
                  <Button onClick={() => setForm({ kind: 'board', parent: board })}>Add a board</Button>
                </div>
                {ways.length === 0 ? (
                  meteredBelow(nodes, board.id).length === 0 && (
                    <EmptyState title="No ways yet">
                      Add the ways of this board as they stand in its schedule.
                    </EmptyState>
                  )
                ) : (
                  <PlainTable
                    head={[
                      'Way',
                      'Phase',
                      'Device',
                      'Feeds',
                      'Now#',
                      'Load of rating',
                      'Today#',
                      '24 h',
                      'Job',
                      'Switch',
                    ]}
                    className={styles.schedule}
                    keepsColumns
                  >
                    {ways.map((way) => (
                      <ScheduleRow
                        nodes={nodes}
                        key={way.id}
                        way={way}
                        energy={energy?.find((e) => e.nodeId === way.id)}
                        sparkline={sparklines?.find((s) => s.nodeId === way.id)?.values}
                        switching={switches?.find((s) => s.nodeId === way.id)}
                        onEdit={edit}
                      />
                    ))}
                    <RemainderRow nodes={nodes} board={board} energy={energy} />
                  </PlainTable>
                )}
              </section>
            );
          })}
        </div>
        <ToSeeTo nodes={nodes} />
      </div>
      {supply && (
        <Suspense fallback={null}>
          <DemandDrawing supply={supply} />
        </Suspense>
      )}
      {form && (
        <Suspense fallback={null}>
          <NodeForm
            kind={form.kind}
            parent={form.parent}
            {...(form.node ? { node: form.node } : {})}
            way={nextWay(nodes, form.parent, form.kind)}
            onClose={() => setForm(null)}
          />
        </Suspense>
      )}
    </div>
  );
}

/** The next free way number, as a suggestion; a board's mark is for the person to choose. */
function nextWay(nodes: InstallationNode[], parent: InstallationNode, kind: string): string {
  if (kind !== 'circuit') return '';
  const numbers = childrenOf(nodes, parent.id)
    .map((n) => Number(n.way))
    .filter(Number.isFinite);
  return String(Math.max(0, ...numbers) + 1);
}
