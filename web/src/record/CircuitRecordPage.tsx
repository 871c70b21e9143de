import type { InstallationNode } from '@loka/contract/installation';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { useCircuitRecord } from '../api/useApi.js';
import { FailedState, LoadingState } from '../shared/states.js';
import { LabelsDialog } from './LabelsDialog.js';
import { RecordParts } from './RecordParts.js';
import styles from './Record.module.css';

/** The record of a circuit: on screen as it is printed. */
export default function CircuitRecordPage({ node }: { node: InstallationNode }) {
  const { data: record, error } = useCircuitRecord(node.id);
  const [labels, setLabels] = useState(false);
  if (!record) return error ? <FailedState error={error} /> : <LoadingState />;
  return (
    <div>
      <div className={styles.head}>
        {record.open.length > 0 ? (
          <ul className={styles.open} aria-label="Open">
            {record.open.map((words) => (
              <li key={words} className="warn">
                {words}
              </li>
            ))}
          </ul>
        ) : (
          <span className="ok">Nothing is open.</span>
        )}
        <div className={styles.actions}>
          <Button variant="outlined" onClick={() => setLabels(true)}>
            Labels
          </Button>
          <Button
            variant="contained"
            href={`/api/records/circuits/${node.id}/record.pdf`}
            target="_blank"
            rel="noreferrer"
          >
            Record as PDF
          </Button>
        </div>
      </div>
      <RecordParts sections={record.sections} />
      {labels && <LabelsDialog nodes={[node.id]} onClose={() => setLabels(false)} />}
    </div>
  );
}
