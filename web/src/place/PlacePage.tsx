import type { InstallationNode } from '@loka/contract/installation';
import type { FormerPoint, Point } from '@loka/contract/points';
import { isReadable } from '@loka/core/points';
import Button from '@mui/material/Button';
import { lazy, Suspense, useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import { useFormerPoints } from '../api/useApi.js';
import { PlacePath } from '../shared/PlacePath.js';
import { EmptyState, LoadingState } from '../shared/states.js';
import { nodeTitle } from '../shared/nodes.js';
import { NowTab } from './NowTab.js';
import { PlaceStrip, usePlaceTab, type PlaceTab } from './PlaceStrip.js';
import styles from './PlacePage.module.css';

const NodeForm = lazy(() => import('../installation/NodeForm.js'));
const ExportDialog = lazy(() => import('./ExportDialog.js'));
const WiringTab = lazy(() => import('./WiringTab.js'));
const EnergyTab = lazy(() => import('./EnergyTab.js'));
const ProfileTab = lazy(() => import('./ProfileTab.js'));
const HistoryTab = lazy(() => import('./HistoryTab.js'));
const CalibratePage = lazy(() => import('../calibration/CalibratePage.js'));
const ControlPage = lazy(() => import('../control/ControlPage.js'));

const NONE: FormerPoint[] = [];

/** The supply, a board, a circuit or a load: all that is known of it, each part a place of its own in the URL. */
export default function PlacePage({
  node,
  nodes,
  points,
  schedule,
}: {
  node: InstallationNode;
  nodes: InstallationNode[];
  points: Point[];
  /** Of a board: its ways. */
  schedule: ReactNode;
}) {
  const { data: former = NONE } = useFormerPoints(node.id);
  const [dialog, setDialog] = useState<'export' | 'edit' | 'load' | null>(null);
  const tab = usePlaceTab(node);
  const parent = nodes.find((n) => n.id === node.parentId) ?? null;
  const readable = points.filter((p) => p.nodeId === node.id && isReadable(p.definition));
  const exportable = [...readable, ...former];
  const isBar = node.kind === 'supply' || node.kind === 'board';
  const nothing = readable.length === 0 && !isBar;
  return (
    <div className={styles.page}>
      <div className={styles.title}>
        <div>
          <h1>{nodeTitle(node)}</h1>
          <PlacePath node={node} nodes={nodes} />
        </div>
        <span className={styles.space} />
        {!nothing && (
          <Button variant="outlined" component={Link} to={`/field/fit/${node.id}`}>
            Fit a meter
          </Button>
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
      <PlaceStrip node={node} tab={tab} />
      {nothing && (tab === 'now' || tab === 'energy') ? (
        <>
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
          {tab === 'now' && <NowTab node={node} nodes={nodes} points={points} former={former} bare />}
        </>
      ) : (
        <Suspense fallback={<LoadingState />}>
          <Part tab={tab} node={node} nodes={nodes} points={points} former={former} schedule={schedule} />
        </Suspense>
      )}
      <Suspense fallback={null}>
        {dialog === 'export' && <ExportDialog points={exportable} onClose={() => setDialog(null)} />}
        {dialog === 'edit' && (
          <NodeForm node={node} kind={node.kind} parent={parent} onClose={() => setDialog(null)} />
        )}
        {dialog === 'load' && <NodeForm kind="load" parent={node} onClose={() => setDialog(null)} />}
      </Suspense>
    </div>
  );
}

function Part({
  tab,
  node,
  nodes,
  points,
  former,
  schedule,
}: {
  tab: PlaceTab;
  node: InstallationNode;
  nodes: InstallationNode[];
  points: Point[];
  former: FormerPoint[];
  schedule: ReactNode;
}) {
  switch (tab) {
    case 'schedule':
      return schedule;
    case 'now':
      return <NowTab key={node.id} node={node} nodes={nodes} points={points} former={former} />;
    case 'energy':
      return <EnergyTab key={node.id} node={node} nodes={nodes} points={points} />;
    case 'profile':
      return <ProfileTab key={node.id} node={node} nodes={nodes} />;
    case 'wiring':
      return <WiringTab key={node.id} node={node} nodes={nodes} points={points} />;
    case 'calibration':
      return <CalibratePage key={node.id} node={node} points={points} />;
    case 'control':
      return <ControlPage />;
    case 'history':
      return <HistoryTab key={node.id} node={node} />;
  }
}
