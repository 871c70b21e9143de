import { lazy, Suspense, useState } from 'react';
import { useInstallation, usePoints } from '../api/useApi.js';
import { FailedState, LoadingState } from '../shared/states.js';
import { useSelection } from '../shared/nodes.js';
import { BoardSchedule } from './BoardSchedule.js';

const PlacePage = lazy(() => import('../place/PlacePage.js'));
const FirstMeter = lazy(() => import('../devices/FirstMeter.js'));

/** The Board: the schedule of the whole site, or the page of the place that is selected. */
export default function BoardPage() {
  const { data: nodes, error, mutate } = useInstallation();
  const { data: points } = usePoints();
  const [at] = useSelection();
  const [skipped, setSkipped] = useState(false);
  if (error && !nodes) return <FailedState error={error} retry={() => void mutate()} />;
  if (!nodes || !points) return <LoadingState />;
  const supply = nodes.find((n) => n.kind === 'supply');
  const node = nodes.find((n) => n.id === at);
  if (supply && points.length === 0 && !skipped)
    return (
      <Suspense fallback={<LoadingState />}>
        <FirstMeter supply={supply} onSkip={() => setSkipped(true)} />
      </Suspense>
    );
  if (node)
    return (
      <Suspense fallback={<LoadingState />}>
        <PlacePage
          key={node.id}
          node={node}
          nodes={nodes}
          points={points}
          schedule={<BoardSchedule nodes={nodes} subject={node} />}
        />
      </Suspense>
    );
  return <BoardSchedule nodes={nodes} subject={supply ?? null} />;
}
