import type { InstallationNode } from '@loka/contract/installation';
import { Link, useSearchParams } from 'react-router';
import { useSite } from '../api/useApi.js';
import { OfPlace } from '../profile/OfPlace.js';
import { LoadingState } from '../shared/states.js';

/** What the place does over the period; what follows from it stands with the profiles. */
export default function ProfileTab({ node, nodes }: { node: InstallationNode; nodes: InstallationNode[] }) {
  const site = useSite().data?.site;
  const [search] = useSearchParams();
  if (!site) return <LoadingState />;
  const next = new URLSearchParams(search);
  next.set('at', String(node.id));
  next.delete('tab');
  return (
    <>
      <OfPlace node={node} nodes={nodes} site={site} part />
      <p>
        <Link to={`/profiles?${next.toString()}`}>Whether a backup source carries it</Link>
      </p>
    </>
  );
}
