import { isReadable } from '@loka/core/points';
import type { FormerPoint, Point } from '@loka/contract/points';
import type { InstallationNode } from '@loka/contract/installation';
import Button from '@mui/material/Button';
import { lazy, Suspense, useState } from 'react';
import { Link } from 'react-router';
import { useFormerPoints, useSwitches } from '../api/useApi.js';
import { JobMarks } from '../installation/JobMarks.js';
import { SwitchPanel } from '../control/SwitchPanel.js';
import { NodeForm } from '../installation/NodeForm.js';
import { PlacePath } from '../shared/PlacePath.js';
import { EmptyState, LoadingState } from '../shared/states.js';
import { childrenOf, nodeTitle } from '../shared/nodes.js';
import { FittingsPanel } from './FittingsPanel.js';
import { LoadsRemainder } from './LoadsRemainder.js';
import { EnergyPanel } from './EnergyPanel.js';
import { ExportDialog } from './ExportDialog.js';
import { NowPanel } from './NowPanel.js';
import { SensingPanel } from './SensingPanel.js';
import styles from './CircuitPage.module.css';

const NONE: FormerPoint[] = [];
const TrendPanel = lazy(() => import('./TrendPanel.js'));

/** A circuit or a load: now, trend, energy, switch, and how far its job is. */
export default function CircuitPage({
  node,
  nodes,
  points,
}: {
  node: InstallationNode;
  nodes: InstallationNode[];
  points: Point[];
}) {
  const { data: switches } = useSwitches();
  const { data: former = NONE } = useFormerPoints(node.id);
  const [dialog, setDialog] = useState<'export' | 'edit' | 'load' | null>(null);
  const own = points.filter((p) => p.nodeId === node.id);
  const parent = nodes.find((n) => n.id === node.parentId) ?? null;
  const switching = switches?.find((s) => s.nodeId === node.id);
  const loads = childrenOf(nodes, node.id);
  const readable = own.filter((p) => isReadable(p.definition));
  const exportable = [...readable, ...former];
  return (
    <div className={styles.page}>
      <div className={styles.title}>
        <div>
          <h1>{nodeTitle(node)}</h1>
          <PlacePath node={node} nodes={nodes} />
        </div>
        <span className={styles.space} />
        {readable.length > 0 && (
          <Button variant="outlined" component={Link} to={`/field/fit/${node.id}`}>
            Fit a meter
          </Button>
        )}
        {readable.length > 0 && (
          <>
            <Button variant="outlined" component={Link} to={`/bench?at=${node.id}&do=verify`}>
              Verify
            </Button>
            <Button variant="outlined" component={Link} to={`/bench?at=${node.id}&do=calibrate`}>
              Calibrate
            </Button>
          </>
        )}
        {exportable.length > 0 && (
          <Button variant="outlined" onClick={() => setDialog('export')}>
            Export readings
          </Button>
        )}
        {node.kind === 'circuit' && (
          <Button variant="outlined" onClick={() => setDialog('load')}>
            Add a load
          </Button>
        )}
        <Button variant="outlined" onClick={() => setDialog('edit')}>
          Change
        </Button>
      </div>
      {readable.length === 0 ? (
        <EmptyState
          title={former.length > 0 ? 'Nothing measures this any more' : 'Nothing measures this yet'}
          action={
            <Button variant="contained" component={Link} to={`/field/fit/${node.id}`}>
              Fit a meter
            </Button>
          }
        >
          Choose what goes on it, see how it is fitted, connect it, and look at its first readings.
        </EmptyState>
      ) : (
        <div className={styles.columns}>
          <div className={styles.side}>
            <NowPanel node={node} nodes={nodes} points={points} />
            <EnergyPanel node={node} points={points} />
            {switching && <SwitchPanel entity={switching} />}
            <SensingPanel node={node} points={points} />
            <FittingsPanel node={node} />
            <section>
              <h2>Job</h2>
              <JobMarks node={node} words />
            </section>
            {loads.length > 0 && (
              <section>
                <h2>Loads</h2>
                <p>{loads.map((l) => l.name).join(', ')}</p>
                <LoadsRemainder nodes={nodes} node={node} />
              </section>
            )}
          </div>
          <Suspense fallback={<LoadingState />}>
            <TrendPanel node={node} nodes={nodes} points={points} former={former} />
          </Suspense>
        </div>
      )}
      {readable.length === 0 && former.length > 0 && (
        <Suspense fallback={<LoadingState />}>
          <TrendPanel node={node} nodes={nodes} points={points} former={former} />
        </Suspense>
      )}
      {readable.length === 0 && switching && <SwitchPanel entity={switching} />}
      {dialog === 'export' && <ExportDialog points={exportable} onClose={() => setDialog(null)} />}
      {dialog === 'edit' && (
        <NodeForm node={node} kind={node.kind} parent={parent} onClose={() => setDialog(null)} />
      )}
      {dialog === 'load' && <NodeForm kind="load" parent={node} onClose={() => setDialog(null)} />}
    </div>
  );
}
