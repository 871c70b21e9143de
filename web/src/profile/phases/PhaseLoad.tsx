import type { InstallationNode } from '@loka/contract/installation';
import Button from '@mui/material/Button';
import { inWords, isRefused } from '../../api/client.js';
import { usePhases } from '../../api/useApi.js';
import profiles from '../Profiles.module.css';
import { Sentences } from '../Sentences.js';
import { useCopySentences } from '../useCopySentences.js';
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
  const copy = useCopySentences();
  if (isRefused(error) && error.problem.status === 409) return null;
  const nameOf = (id: number) => nodes.find((n) => n.id === id)?.name ?? 'a place that is gone';
  const sentences = data?.nodeId === nodeId && !error ? phasesSays(data, nameOf, zone) : [];
  if (data?.nodeId === nodeId && !error && sentences.length === 0) return null;
  return (
    <section aria-label="Phases">
      <header className={profiles.title}>
        <h2>Phases</h2>
        <small>the lines beside one another, the neutral, what a move would do</small>
        <span className={profiles.space} />
        {sentences.length > 0 && <Button onClick={() => copy(sentences)}>Copy all</Button>}
      </header>
      {error ? (
        <p role="alert">{inWords(error)}</p>
      ) : sentences.length === 0 ? (
        <p className="muted">Working it out …</p>
      ) : (
        <Sentences all={sentences} wide />
      )}
    </section>
  );
}
