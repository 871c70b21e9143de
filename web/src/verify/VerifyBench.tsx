import type { InstallationNode } from '@loka/contract/installation';
import Button from '@mui/material/Button';
import { Link } from 'react-router';
import { ApiError } from '../api/client.js';
import { useVerification } from '../api/useApi.js';
import { EmptyState, FailedState, LoadingState } from '../shared/states.js';
import { CheckList } from './CheckList.js';
import { PastPanel } from './PastPanel.js';
import { PhasorDrawing } from './PhasorDrawing.js';
import { StepTestPanel } from './StepTestPanel.js';
import { VerdictBar } from './VerdictBar.js';
import styles from './VerifyBench.module.css';

/** Proves how a circuit's meter is wired: the checklist left, its evidence right, the verdict below. */
export default function VerifyBench({ node, nodes }: { node: InstallationNode; nodes: InstallationNode[] }) {
  const { data: verification, error, mutate } = useVerification(node.id);
  if (error && !verification) {
    if (error instanceof ApiError && error.problem.type.endsWith('nothing-measured'))
      return (
        <EmptyState
          title={`Nothing measures ${node.name} yet`}
          action={
            <Button variant="contained" component={Link} to={`/field/fit/${node.id}`}>
              Fit a meter
            </Button>
          }
        >
          A meter or clamp with readings of this circuit is needed to prove its wiring.
        </EmptyState>
      );
    return <FailedState error={error} retry={() => void mutate()} />;
  }
  if (!verification) return <LoadingState />;
  const { tried, phasors, past, faults } = verification;
  const wrong = faults.flatMap((f) =>
    f.kind === 'swapped' || f.kind === 'reversed' || f.kind === 'wrong-phase' ? f.lines : [],
  );
  const misplaced = wrong.length > 0 && tried !== null;
  return (
    <div className={styles.page}>
      <div className={styles.columns}>
        <CheckList verification={verification} />
        <div className={styles.evidence}>
          {past && <PastPanel node={node} past={past} />}
          <StepTestPanel node={node} nodes={nodes} verification={verification} />
          <section className={styles.pictures} aria-label="Phasors">
            {misplaced ? (
              <>
                <PhasorDrawing title="As read" phasors={tried.asRead} wrong={wrong} />
                <PhasorDrawing title="As it would be, wired right" phasors={tried.onceRight} />
              </>
            ) : (
              <>
                <PhasorDrawing title="As read now" phasors={phasors} />
                {tried && <PhasorDrawing title="The load that was switched" phasors={tried.asRead} />}
              </>
            )}
          </section>
        </div>
      </div>
      <VerdictBar node={node} verification={verification} />
    </div>
  );
}
