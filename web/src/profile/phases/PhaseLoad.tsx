import type { InstallationNode } from '@loka/contract/installation';
import { isRefused } from '../../api/client.js';
import { usePhases } from '../../api/useApi.js';
import { useWaits } from '../../shared/InOrder.js';
import { Answer } from '../Answer.js';
import { phasesSays } from './phasesSays.js';

/** How the lines of a place are loaded; nothing where their powers are not measured. */
export function PhaseLoad({
  nodeId,
  nodes,
  from,
  to,
  zone,
}: {
  nodeId: number;
  nodes: InstallationNode[];
  from: number;
  to: number;
  zone: string;
}) {
  const { data, error } = usePhases(nodeId, from, to);
  useWaits(data?.nodeId !== nodeId && !error);
  if (isRefused(error) && error.problem.status === 409) return null;
  const nameOf = (id: number) => nodes.find((n) => n.id === id)?.name ?? 'a place that is gone';
  const sentences = data?.nodeId === nodeId ? phasesSays(data, nameOf, zone) : null;
  if (!error && sentences?.length === 0) return null;
  return (
    <Answer
      label="Phases"
      title="Phases"
      note="the lines beside one another, the neutral, what a move would do"
      sentences={sentences}
      error={error}
      wide
    />
  );
}
