import type { InstallationNode } from '@loka/contract/installation';
import type { StepLoad } from '@loka/contract/verify';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { useNotices } from '../shared/notices.js';
import { childrenOf } from '../shared/nodes.js';
import { useUnsaved } from '../shared/unsaved.js';
import bench from './VerifyBench.module.css';
import styles from './StepTestForm.module.css';

interface Row {
  name: string;
  /** As typed. */
  watts: string;
  resistive: boolean;
  powerFactor: number | null;
  byRelay: boolean;
}

/** Names the loads that are to be switched, from what is known of the circuit. */
export function StepTestForm({ node, nodes }: { node: InstallationNode; nodes: InstallationNode[] }) {
  const proposed = proposedRows(node, nodes);
  const [rows, setRows] = useState<Row[]>(proposed);
  const [busy, setBusy] = useState(false);
  const { attempt } = useNotices();
  useUnsaved(!busy && JSON.stringify(rows) !== JSON.stringify(proposed) ? 'the list of loads' : null);
  const change = (index: number, by: Partial<Row>) =>
    setRows(rows.map((row, i) => (i === index ? { ...row, ...by } : row)));
  const start = () =>
    void attempt(async () => {
      setBusy(true);
      try {
        const loads: StepLoad[] = rows.map((row) => ({
          name: row.name,
          watts: wattsOf(row),
          powerFactor: row.resistive ? 1 : row.powerFactor,
          byRelay: row.byRelay,
        }));
        await api(`/verifications/${node.id}/step-test`, 'POST', { loads });
        await mutate(`/verifications/${node.id}`);
      } finally {
        setBusy(false);
      }
    });
  return (
    <div className={styles.form}>
      <p className="muted">
        Name a load and its rated power. Loka asks you to switch it, and finds its step by itself.
      </p>
      {rows.map((row, i) => (
        <fieldset key={i}>
          <legend className="spoken">Load {i + 1}</legend>
          <label>
            <span>Load</span>
            <input value={row.name} onChange={(e) => change(i, { name: e.target.value })} />
          </label>
          <label className={styles.watts}>
            <span>Power, W</span>
            <input
              inputMode="decimal"
              value={row.watts}
              placeholder="not known"
              aria-invalid={Number.isNaN(wattsOf(row) ?? 0)}
              onChange={(e) => change(i, { watts: e.target.value })}
            />
          </label>
          <label className={styles.tick}>
            <input
              type="checkbox"
              checked={row.resistive}
              onChange={(e) => change(i, { resistive: e.target.checked })}
            />{' '}
            heater
          </label>
          {node.switchId !== null && (
            <label className={styles.tick}>
              <input
                type="checkbox"
                checked={row.byRelay}
                onChange={(e) => change(i, { byRelay: e.target.checked })}
              />{' '}
              by its relay
            </label>
          )}
          {rows.length > 1 && (
            <button
              type="button"
              aria-label={`Leave ${row.name} out`}
              onClick={() => setRows(rows.filter((_, k) => k !== i))}
            >
              ×
            </button>
          )}
        </fieldset>
      ))}
      <div className={bench.actions}>
        <Button
          variant="contained"
          disabled={busy || rows.some((r) => r.name.trim() === '' || Number.isNaN(wattsOf(r) ?? 0))}
          onClick={start}
        >
          Start the step test
        </Button>
        <Button
          onClick={() =>
            setRows([...rows, { name: '', watts: '', resistive: false, powerFactor: null, byRelay: false }])
          }
        >
          Another load
        </Button>
      </div>
    </div>
  );
}

/** W as typed; null where nothing is, NaN where it is no number. */
function wattsOf({ watts }: Row): number | null {
  const text = watts.trim().replace(',', '.');
  return text === '' ? null : Number(text) > 0 ? Number(text) : NaN;
}

/** The loads behind the circuit with their plates; else the circuit as one load. */
function proposedRows(node: InstallationNode, nodes: readonly InstallationNode[]): Row[] {
  const loads = childrenOf(nodes, node.id).filter((n) => n.kind === 'load');
  const row = ({ name, ratedPower, powerFactor }: InstallationNode): Row => ({
    name,
    watts: ratedPower ? String(ratedPower) : '',
    resistive: powerFactor === 1,
    powerFactor: powerFactor ?? null,
    byRelay: false,
  });
  return loads.length > 0 ? loads.map(row) : [row(node)];
}
