import type { VirtualMeter } from '@loka/contract/virtual';
import Button from '@mui/material/Button';
import { lazy, Suspense, useState } from 'react';
import { useInstallation, usePoints, useVirtualMeters } from '../api/useApi.js';
import { Reading } from '../shared/Reading.js';
import { nodeTitle } from '../shared/nodes.js';
import styles from './VirtualMeterList.module.css';

// The parser of formulas is only needed by who writes one.
const VirtualMeterForm = lazy(() => import('./VirtualMeterForm.js'));

/** Virtual meters with what they read now. */
export function VirtualMeterList() {
  const { data: meters = [] } = useVirtualMeters();
  const { data: points = [] } = usePoints();
  const { data: nodes = [] } = useInstallation();
  const [open, setOpen] = useState<{ meter?: VirtualMeter } | null>(null);
  return (
    <div className={styles.section}>
      <div className={styles.title}>
        <h1>Virtual meters</h1>
        <Button onClick={() => setOpen({})}>Add one</Button>
      </div>
      {meters.length === 0 && (
        <p className="muted">
          A sum, a difference or a formula over points, for example “lighting” from two circuits.
        </p>
      )}
      {meters.map((meter) => {
        const point = points.find((p) => p.id === meter.pointId);
        const node = nodes.find((n) => n.id === meter.nodeId);
        return (
          <div key={meter.pointId} className={styles.meter}>
            <button type="button" onClick={() => setOpen({ meter })} title="Change this virtual meter">
              <strong>{meter.name}</strong>
              <span className="measured muted">{meter.formula}</span>
              {node && <span className="muted">{nodeTitle(node)}</span>}
            </button>
            {point && <Reading point={point} brief />}
          </div>
        );
      })}
      {open && (
        <Suspense fallback={null}>
          <VirtualMeterForm {...(open.meter ? { meter: open.meter } : {})} onClose={() => setOpen(null)} />
        </Suspense>
      )}
    </div>
  );
}
