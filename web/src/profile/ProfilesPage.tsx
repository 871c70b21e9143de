import { useInstallation, useSite } from '../api/useApi.js';
import { useSelection } from '../shared/nodes.js';
import { EmptyState, FailedState, LoadingState } from '../shared/states.js';
import { OfPlace } from './OfPlace.js';

/** What loads do: found from their power, in sentences, with the pictures that show it. */
export default function ProfilesPage() {
  const { data: nodes, error, mutate } = useInstallation();
  const site = useSite().data?.site ?? null;
  const [at] = useSelection();
  if (error && !nodes) return <FailedState error={error} retry={() => void mutate()} />;
  if (!nodes || !site) return <LoadingState />;
  const chosen = nodes.find((n) => n.id === at);
  if (at !== null && !chosen)
    return (
      <EmptyState title="This place is no longer there">
        It was removed from the installation. Choose another one in the drawing on the left.
      </EmptyState>
    );
  const node = chosen ?? nodes.find((n) => n.powerPointIds.length > 0);
  if (!node)
    return (
      <EmptyState title="Nothing is measured yet">
        A profile is found from a power that is recorded. Connect a meter in the Field first.
      </EmptyState>
    );
  return <OfPlace key={node.id} node={node} nodes={nodes} site={site} />;
}
