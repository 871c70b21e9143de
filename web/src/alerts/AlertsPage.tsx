import type { Alert, AlertRule } from '@loka/contract/alerts';
import type { AlertPhase } from '@loka/core/alerts';
import { printAge, printSet } from '@loka/core/formats';
import { siteClock } from '@loka/core/time';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { mutate } from 'swr';
import { PlainTable } from '../shared/PlainTable.js';
import { api } from '../api/client.js';
import { useAlertHistory, useAlertRules, useAlerts, usePoints } from '../api/useApi.js';
import { Measured } from '../shared/Measured.js';
import { useNotices } from '../shared/notices.js';
import { unitOf } from '../shared/nodes.js';
import { usePeriod } from '../shared/period.js';
import { EmptyState, FailedState, LoadingState } from '../shared/states.js';
import { AlertRuleForm } from './AlertRuleForm.js';
import { conditionOf, whenOf } from './occurrence.js';
import styles from './AlertsPage.module.css';
import { usePointTitle } from '../shared/usePointTitle.js';

/** The states of IEC 62682 in words. */
const PHASE: Record<AlertPhase, { words: string; level: string }> = {
  unacknowledged: { words: 'active, not acknowledged', level: 'danger' },
  acknowledged: { words: 'active, acknowledged', level: 'warn' },
  'returned-unacknowledged': { words: 'over, not acknowledged', level: 'warn' },
  normal: { words: 'over', level: 'muted' },
};

/** Alerts: what is open, what is watched, what has happened. */
export default function AlertsPage() {
  const titleOf = usePointTitle();
  const { data: open, error, mutate: again } = useAlerts();
  const { data: rules = [] } = useAlertRules();
  const { data: history = [] } = useAlertHistory();
  const { data: points = [] } = usePoints();
  const [search, setSearch] = useSearchParams();
  const [form, setForm] = useState<{ rule?: AlertRule } | null>(null);
  const { attempt } = useNotices();
  const { zone } = usePeriod();
  if (error && !open) return <FailedState error={error} retry={() => void again()} />;
  if (!open) return <LoadingState />;
  const showForm = form ?? (search.get('add') === 'rule' ? {} : null);
  const closeForm = () => {
    setForm(null);
    setSearch((s) => {
      s.delete('add');
      return s;
    });
  };
  const acknowledge = (alert: Alert) =>
    void attempt(() =>
      api(`/alerts/${alert.id}/acknowledge`, 'POST').then(() =>
        mutate((key) => typeof key === 'string' && key.startsWith('/alert')),
      ),
    );
  const unit = (pointId: number | null) => {
    const point = points.find((p) => p.id === pointId);
    return point ? unitOf(point) : '';
  };
  return (
    <div className={styles.page}>
      <section aria-label="Open alerts">
        <h1>Open</h1>
        {open.length === 0 ? (
          <EmptyState title="No open alerts">
            Readings beyond a limit show here, and at the top of every screen, until they are back and someone
            has acknowledged them.
          </EmptyState>
        ) : (
          open.map((alert) => (
            <div key={alert.id} className={styles.alert} data-level={PHASE[alert.phase].level}>
              <div>
                <strong>{alert.name}</strong>
                <p className="muted">
                  {conditionOf(alert)}
                  {alert.value !== null && (
                    <>
                      , read <Measured value={alert.value} unit={unit(alert.pointId)} />
                    </>
                  )}
                  {` · ${whenOf(alert, zone, 'HH:mm:ss')}`}
                </p>
              </div>
              <span className={PHASE[alert.phase].level}>{PHASE[alert.phase].words}</span>
              {alert.acknowledgedAt === null ? (
                <Button variant="outlined" onClick={() => acknowledge(alert)}>
                  Acknowledge
                </Button>
              ) : (
                <span className="muted">by {alert.acknowledgedBy}</span>
              )}
            </div>
          ))
        )}
      </section>
      <section aria-label="Watched limits">
        <div className={styles.title}>
          <h1>Watched limits</h1>
          <Button variant="outlined" onClick={() => setForm({})}>
            Add an alert
          </Button>
        </div>
        {rules.length === 0 ? (
          <EmptyState title="No limits are watched yet">
            A low voltage destroys compressors; a high load trips the main fuse.
          </EmptyState>
        ) : (
          <PlainTable
            head={['Alert', 'Point', 'Condition', 'Deadband#', 'On-delay#', 'Off-delay#', 'State', '']}
          >
            {rules.map((rule) => {
              const point = points.find((p) => p.id === rule.pointId);
              return (
                <tr key={rule.id}>
                  <td>{rule.name}</td>
                  <td>{point ? titleOf(point) : 'no longer there'}</td>
                  <td>
                    {rule.direction}{' '}
                    <span className="measured">{printSet(rule.limit, unit(rule.pointId))}</span>
                  </td>
                  <td className="number measured">{printSet(rule.deadband, unit(rule.pointId))}</td>
                  <td className="number measured">{rule.onDelayMs / 1000} s</td>
                  <td className="number measured">{rule.offDelayMs / 1000} s</td>
                  <td
                    className={
                      !rule.enabled ? 'muted' : rule.missing !== null ? 'danger' : PHASE[rule.phase].level
                    }
                  >
                    {!rule.enabled
                      ? 'not watched'
                      : rule.missing !== null
                        ? `Watches nothing. ${rule.missing}`
                        : rule.phase === 'normal'
                          ? 'quiet'
                          : PHASE[rule.phase].words}
                  </td>
                  <td className="number">
                    <Button onClick={() => setForm({ rule })}>Change</Button>
                  </td>
                </tr>
              );
            })}
          </PlainTable>
        )}
      </section>
      <section aria-label="History">
        <h1>History</h1>
        {history.length === 0 ? (
          <EmptyState title="Nothing has happened yet" />
        ) : (
          <PlainTable head={['Raised', 'Alert', 'Condition', 'Read#', 'Lasted#', 'Acknowledged']}>
            {history.map((alert) => (
              <tr key={alert.id}>
                <td className="measured">{siteClock(zone, alert.raisedAt, 'd LLL HH:mm:ss')}</td>
                <td>{alert.name}</td>
                <td>{alert.condition}</td>
                <td className="number">
                  {alert.value === null ? '–' : <Measured value={alert.value} unit={unit(alert.pointId)} />}
                </td>
                <td className="number">
                  {alert.returnedAt === null ? 'still' : printAge(alert.returnedAt - alert.raisedAt)}
                </td>
                <td>
                  {alert.acknowledgedAt === null
                    ? 'no'
                    : `${siteClock(zone, alert.acknowledgedAt, 'd LLL HH:mm:ss')}, ${alert.acknowledgedBy}`}
                </td>
              </tr>
            ))}
          </PlainTable>
        )}
      </section>
      {showForm && <AlertRuleForm {...showForm} onClose={closeForm} />}
    </div>
  );
}
