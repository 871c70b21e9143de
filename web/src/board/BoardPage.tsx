import { useState } from 'react';
import { useInstallation, usePoints } from '../api/useApi.js';
import CircuitPage from '../circuit/CircuitPage.js';
import { FirstMeter } from '../devices/FirstMeter.js';
import { FailedState, LoadingState } from '../shared/states.js';
import { useSelection } from '../shared/nodes.js';
import { BoardSchedule } from './BoardSchedule.js';

/** The Board: the schedule of the selected board, or the page of the selected circuit. */
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
    return <FirstMeter supply={supply} onSkip={() => setSkipped(true)} />;
  if (node && (node.kind === 'circuit' || node.kind === 'load'))
    return <CircuitPage key={node.id} node={node} nodes={nodes} points={points} />;
  return <BoardSchedule nodes={nodes} subject={node ?? supply ?? null} />;
}
