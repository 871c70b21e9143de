import { isReadable } from '@loka/core/points';
import type { InstallationNode } from '@loka/contract/installation';
import { chooseClamp, type Transducer } from '@loka/core/sensing';
import {
  fitFindings,
  FITTINGS,
  type Fitting,
  lineAmperes,
  phaseCount,
  type SupplySystem,
} from '@loka/core/installation';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { useInstallation, usePoints, useSite } from '../api/useApi.js';
import { ConductorMarks } from '../shared/ConductorMarks.js';
import { protectionOf, childrenOf, nodeTitle } from '../shared/nodes.js';
import { EmptyState, LoadingState } from '../shared/states.js';
import { FitDevice } from './FitDevice.js';
import { FitDrawing } from './FitDrawing.js';
import { FitLive } from './FitLive.js';
import styles from './FitPage.module.css';

const FITTING_WORDS: Record<Fitting, string> = {
  clamp: 'Clamp around the conductor',
  'series-meter': 'Meter in series',
  'three-phase-meter': 'Three-phase meter',
  'plug-meter': 'Plug meter',
  'dc-sensor': 'DC sensor or shunt',
};
/** What each is to the readings; a signal that the device leaves as it is has to be said on the circuit's page. */
const KIND: Record<Fitting, Transducer | null> = {
  clamp: 'current-transformer',
  'series-meter': 'direct',
  'three-phase-meter': 'direct',
  'plug-meter': 'direct',
  'dc-sensor': 'hall',
};
const USUAL_RATING: Record<Fitting, string> = {
  clamp: '60',
  'series-meter': '45',
  'three-phase-meter': '65',
  'plug-meter': '16',
  'dc-sensor': '200',
};

/** Fit a meter: the circuit, what kind of device, how it goes on, the device, and its first readings. */
export default function FitPage() {
  const { nodeId } = useParams();
  const { data: nodes } = useInstallation();
  if (!nodes) return <LoadingState />;
  const node = nodes.find((n) => n.id === Number(nodeId));
  if (!node)
    return <EmptyState title="There is no such circuit" action={<Link to="/board">To the board</Link>} />;
  return <Fit key={node.id} node={node} nodes={nodes} />;
}

function Fit({ node, nodes }: { node: InstallationNode; nodes: InstallationNode[] }) {
  const navigate = useNavigate();
  const { data: points = [] } = usePoints();
  const { data: site } = useSite();
  const own = points.filter((p) => p.nodeId === node.id && isReadable(p.definition));
  const [fitting, setFitting] = useState<Fitting>(node.phases === 'L1 L2 L3' ? 'three-phase-meter' : 'clamp');
  const [rating, setRating] = useState<string | null>(null);
  const [turns, setTurns] = useState('1');
  const typed = rating ?? USUAL_RATING[fitting];
  const [fuse, setFuse] = useState('');
  const loadAmperes = drawnBy(
    node,
    nodes,
    site?.site?.nominalVoltage ?? 230,
    site?.site?.supplySystem ?? 'three-phase',
  );
  const nearest =
    fitting === 'plug-meter' && numberOf(fuse)
      ? { what: 'plug or its fuse', amperes: numberOf(fuse) as number }
      : null;
  const findings = fitFindings(
    fitting,
    numberOf(typed) ?? NaN,
    { phases: node.phases, ratedCurrent: node.ratedCurrent, nearest, loadAmperes },
    Math.max(1, Number(turns) || 1),
  );
  const choice =
    fitting === 'clamp' && node.ratedCurrent !== null ? chooseClamp(node.ratedCurrent, loadAmperes) : null;
  const danger = findings.some((f) => f.level === 'danger');
  const circuits = nodes.filter((n) => n.kind !== 'board');
  return (
    <div className={styles.page}>
      <div className={styles.title}>
        <h1>Fit a meter</h1>
        <span className={styles.space} />
        <Button component={Link} to={`/board?at=${node.id}`}>
          Back
        </Button>
      </div>
      <section aria-label="Which circuit">
        <h2>1. Which circuit</h2>
        <div className={styles.row}>
          <select
            aria-label="Circuit"
            value={node.id}
            onChange={(e) => void navigate(`/field/fit/${e.target.value}`, { replace: true })}
          >
            {circuits.map((n) => (
              <option key={n.id} value={n.id}>
                {nodeTitle(n)}
              </option>
            ))}
          </select>
          <span>
            {protectionOf(node) ||
              (node.ratedCurrent === null ? 'rating not known' : `${node.ratedCurrent} A`)}{' '}
            <ConductorMarks phases={node.phases} />
          </span>
        </div>
      </section>
      <section aria-label="What goes on it">
        <h2>2. What goes on it</h2>
        <div className={styles.fit}>
          <div>
            <div className={styles.kinds} role="radiogroup" aria-label="Kind of device">
              {FITTINGS.map((f) => (
                <label key={f} data-chosen={f === fitting}>
                  <input
                    type="radio"
                    name="fitting"
                    checked={f === fitting}
                    onChange={() => {
                      setFitting(f);
                      setRating(null);
                    }}
                  />{' '}
                  {FITTING_WORDS[f]}
                </label>
              ))}
            </div>
            <div className={styles.row}>
              <TextField
                label={fitting === 'clamp' ? 'Rated current of the clamp, A' : 'Rated current, A'}
                inputMode="decimal"
                value={typed}
                onChange={(e) => setRating(e.target.value)}
              />
              {fitting === 'clamp' && (
                <TextField
                  label="Turns through it"
                  inputMode="numeric"
                  value={turns}
                  onChange={(e) => setTurns(e.target.value)}
                />
              )}
            </div>
            {fitting === 'plug-meter' && (
              <TextField
                label="Fuse in the plug, or rating of the plug, A"
                inputMode="decimal"
                placeholder="13"
                value={fuse}
                onChange={(e) => setFuse(e.target.value)}
              />
            )}
            {choice && (
              <div className={styles.choice}>
                <p>
                  <strong>
                    Right here: {choice.rating} A{choice.turns > 1 ? `, ${choice.turns} turns` : ''}.
                  </strong>{' '}
                  <span className="muted">{choice.why.join(' ')}</span>
                </p>
                {(numberOf(typed) !== choice.rating || turns !== String(choice.turns)) && (
                  <Button
                    onClick={() => {
                      setRating(String(choice.rating));
                      setTurns(String(choice.turns));
                    }}
                  >
                    Take {choice.rating} A
                  </Button>
                )}
              </div>
            )}
            <ul className={styles.findings} aria-label="Does it fit?">
              {findings.map((f) => (
                <li key={f.message} data-level={f.level}>
                  <strong>{{ danger: 'Danger. ', warn: 'Look. ', ok: 'Fits. ' }[f.level]}</strong>
                  {f.message}
                </li>
              ))}
            </ul>
          </div>
          <FitDrawing fitting={fitting} phases={node.phases} turns={Math.max(1, Number(turns) || 1)} />
        </div>
      </section>
      <section aria-label="Which device">
        <h2>3. Which device</h2>
        {danger && (
          <p className="danger">
            Something about the rating is dangerous. Put that right before it is connected.
          </p>
        )}
        <FitDevice
          node={node}
          points={points}
          sensing={{
            kind: KIND[fitting],
            ratedCurrent: numberOf(typed),
            turns: fitting === 'clamp' ? Math.max(1, Math.floor(Number(turns)) || 1) : 1,
            reversed: false,
          }}
        />
      </section>
      <section aria-label="First readings">
        <h2>4. First readings</h2>
        {own.length === 0 ? (
          <p className="muted">They appear here as soon as values of a device are assigned to {node.name}.</p>
        ) : (
          <FitLive node={node} points={own} />
        )}
      </section>
    </div>
  );
}

const numberOf = (text: string): number | null => {
  const value = Number(text.trim().replace(',', '.'));
  return text.trim() !== '' && Number.isFinite(value) && value > 0 ? value : null;
};

/** A that the loads of a circuit draw on one line by their plates; null when nobody knows. */
function drawnBy(
  node: InstallationNode,
  nodes: readonly InstallationNode[],
  volts: number,
  system: SupplySystem,
): number | null {
  const loads = childrenOf(nodes, node.id).filter((n) => n.ratedPower);
  const plates = loads.length > 0 ? loads : node.ratedPower ? [node] : [];
  if (plates.length === 0) return null;
  return plates.reduce(
    (sum, { ratedPower, powerFactor, phases }) =>
      sum +
      lineAmperes(
        { watts: ratedPower ?? 0, powerFactor: powerFactor ?? 1 },
        phaseCount(phases),
        volts,
        system,
      ),
    0,
  );
}
