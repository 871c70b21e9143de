import type { CutOffRule, Switch } from '@loka/contract/control';
import { quantityInfo } from '@loka/core/quantities';
import { printSet } from '@loka/core/formats';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { PlainTable } from '../shared/PlainTable.js';
import { useCutOffRules, useInstallation, usePoints, useSwitches } from '../api/useApi.js';
import { below, useSelection } from '../shared/nodes.js';
import { EmptyState, FailedState, LoadingState } from '../shared/states.js';
import { CutOffForm } from './CutOffForm.js';
import { decisionInWords } from './decisionInWords.js';
import { OperationsTable } from './OperationsTable.js';
import { SwitchForm } from './SwitchForm.js';
import { SwitchPanel } from './SwitchPanel.js';
import styles from './ControlPage.module.css';
import { usePointTitle } from '../shared/usePointTitle.js';

type Open = { form: 'switch'; entity?: Switch } | { form: 'rule'; entity?: CutOffRule } | null;

/** Whether a rule is locked out, or does not protect although it should. */
const isAtRisk = ({ tripped, enabled, missing, decision }: CutOffRule): boolean =>
  tripped !== null ||
  (enabled && (missing !== null || (decision?.action === 'none' && decision.because === 'blind')));

/** Control: the switches with their states, the cut-off rules with what they do and why, and all operations. */
export default function ControlPage() {
  const titleOf = usePointTitle();
  const { data: switches, error, mutate } = useSwitches();
  const { data: rules = [] } = useCutOffRules();
  const { data: points = [] } = usePoints();
  const { data: nodes = [] } = useInstallation();
  const [at] = useSelection();
  const [open, setOpen] = useState<Open>(null);
  if (error && !switches) return <FailedState error={error} retry={() => void mutate()} />;
  if (!switches) return <LoadingState />;
  const subject = at === null ? null : new Set(below(nodes, at).map((n) => n.id));
  const subjectName = nodes.find((n) => n.id === at)?.name;
  const shown = switches.filter((s) => subject === null || subject.has(s.nodeId));
  const ids = new Set(shown.map((s) => s.id));
  const ruled = rules.filter((r) => subject === null || ids.has(r.switchId));
  return (
    <div className={styles.page}>
      <section aria-label="Switches">
        <div className={styles.title}>
          <h1>Switches{subjectName ? ` on ${subjectName}` : ''}</h1>
          <Button variant="outlined" onClick={() => setOpen({ form: 'switch' })}>
            Add a switch
          </Button>
        </div>
        {shown.length === 0 ? (
          <EmptyState title="No switch here">
            A switch is a point that can be written, with one that reports the contact: a relay’s coil and its
            state.
          </EmptyState>
        ) : (
          <div className={styles.switches}>
            {shown.map((entity) => (
              <div key={entity.id}>
                <div className={styles.switchTitle}>
                  <h2>{entity.name}</h2>
                  <Button onClick={() => setOpen({ form: 'switch', entity })}>Change</Button>
                </div>
                <SwitchPanel entity={entity} />
              </div>
            ))}
          </div>
        )}
      </section>
      <section aria-label="Cut-off rules">
        <div className={styles.title}>
          <h1>Overload cut-off</h1>
          <Button
            variant="outlined"
            disabled={switches.length === 0}
            onClick={() => setOpen({ form: 'rule' })}
          >
            Add a cut-off
          </Button>
        </div>
        {ruled.length === 0 ? (
          <EmptyState title="No cut-off yet">
            A cut-off opens a switch when a reading stays above a limit, and keeps it open until somebody has
            looked at the load.
          </EmptyState>
        ) : (
          <PlainTable head={['Opens', 'When', 'Stays above#', 'For#', 'Ignores after closing#', 'Now', '']}>
            {ruled.map((rule) => {
              const point = points.find((p) => p.id === rule.pointId);
              const unit = point ? quantityInfo(point.definition.quantity).unit : '';
              return (
                <tr key={rule.id}>
                  <td>{switches.find((s) => s.id === rule.switchId)?.name ?? '–'}</td>
                  <td>{point ? titleOf(point) : 'no longer there'}</td>
                  <td className="number measured">{printSet(rule.limit, unit)}</td>
                  <td className="number measured">{rule.delayMs / 1000} s</td>
                  <td className="number measured">{rule.ignoreAfterOnMs / 1000} s</td>
                  <td className={isAtRisk(rule) ? 'danger' : ''}>{decisionInWords(rule, unit)}</td>
                  <td className="number">
                    <Button onClick={() => setOpen({ form: 'rule', entity: rule })}>Change</Button>
                  </td>
                </tr>
              );
            })}
          </PlainTable>
        )}
      </section>
      <OperationsTable only={subject === null ? null : ids} />
      {open?.form === 'switch' && (
        <SwitchForm {...(open.entity ? { entity: open.entity } : {})} at={at} onClose={() => setOpen(null)} />
      )}
      {open?.form === 'rule' && (
        <CutOffForm
          {...(open.entity ? { entity: open.entity } : {})}
          switches={switches}
          onClose={() => setOpen(null)}
        />
      )}
    </div>
  );
}
