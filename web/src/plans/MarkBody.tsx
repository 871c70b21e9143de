import type { InstallationNode } from '@loka/contract/installation';
import { loadLevel, type Mark } from '@loka/core/plans';
import { useMemo } from 'react';
import { Link } from 'react-router';
import { useLargest, useSumOfEach } from '../api/live.js';
import { HealthMark } from '../devices/HealthMark.js';
import { Measured } from '../shared/Measured.js';
import { meteredParts } from '../shared/nodes.js';
import { ratedWatts, wayOf, type PlanFacts } from './planFacts.js';
import styles from './PlanSheet.module.css';

/** Something on a plan: what it is, what flows there, and how its load stands to its rating. */
export function MarkBody({ mark, facts, plain = false }: { mark: Mark; facts: PlanFacts; plain?: boolean }) {
  if (mark.kind === 'device') {
    const device = facts.devices.find((d) => d.id === mark.ref);
    const body = device ? (
      <>
        <HealthMark state={device.health.state} /> {device.name}
      </>
    ) : (
      'no longer there'
    );
    return plain || !device ? (
      <span className={styles.device} title={mark.note}>
        {body}
      </span>
    ) : (
      <Link className={styles.device} to={`/field?device=${device.id}`} title={mark.note}>
        {body}
      </Link>
    );
  }
  const node = facts.nodes.find((n) => n.id === mark.ref);
  if (!node)
    return (
      <span className={styles.outlet} title={mark.note}>
        {mark.name || 'no longer there'}
      </span>
    );
  if (mark.kind === 'outlet') {
    const body = (
      <>
        <svg viewBox="0 0 16 12" width="16" height="12" aria-hidden>
          <path d="M2 10a6 6 0 0 1 12 0M8 4V0M3 4h10" fill="none" stroke="currentColor" strokeWidth="1.4" />
        </svg>{' '}
        {mark.name || 'Outlet'} <span className="muted">{wayOf(facts.nodes, node)}</span>
      </>
    );
    return plain ? (
      <span className={styles.outlet} title={mark.note}>
        {body}
      </span>
    ) : (
      <Link className={styles.outlet} to={`/board?at=${node.id}`} title={mark.note}>
        {body}
      </Link>
    );
  }
  return <PlaceMark node={node} facts={facts} note={mark.note} plain={plain} />;
}

function PlaceMark({
  node,
  facts,
  note,
  plain,
}: {
  node: InstallationNode;
  facts: PlanFacts;
  note: string;
  plain: boolean;
}) {
  const own = node.powerPointIds;
  const groups = useMemo(
    () => (own.length > 0 ? [own] : meteredParts(facts.nodes, node.id).map((p) => p.powerPointIds)),
    [own, facts.nodes, node.id],
  );
  const sums = useSumOfEach(groups);
  const amperes = useLargest(node.currentPointIds);
  // A part that is missing is not counted as nothing.
  const power =
    sums.length === 0 || sums.some((v) => v === null) ? null : sums.reduce<number>((a, b) => a + (b ?? 0), 0);
  const watts = ratedWatts(facts, node);
  const share =
    amperes !== null && node.ratedCurrent
      ? Math.abs(amperes) / node.ratedCurrent
      : power !== null && watts
        ? Math.abs(power) / watts
        : null;
  const contact = facts.switches.find((s) => s.nodeId === node.id);
  const state = contact
    ? contact.readBack === null
      ? 'contact not known'
      : contact.readBack
        ? 'closed'
        : 'open'
    : null;
  const title = [node.name, state, node.wiringFault, note].filter(Boolean).join('; ');
  const body = (
    <>
      <b>
        {contact && <i data-contact={state} aria-hidden />}
        {wayOf(facts.nodes, node)}
        {state === 'open' && <small> open</small>}
      </b>
      <Measured value={power} unit="W" />
      {share !== null && (
        <span className={styles.load} style={{ width: `${Math.min(100, 100 * share)}%` }} aria-hidden />
      )}
    </>
  );
  return plain ? (
    <span className={styles.place} data-level={loadLevel(share)} title={title}>
      {body}
    </span>
  ) : (
    <Link className={styles.place} data-level={loadLevel(share)} to={`/board?at=${node.id}`} title={title}>
      {body}
    </Link>
  );
}
