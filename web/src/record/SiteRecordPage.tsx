import Button from '@mui/material/Button';
import { useState } from 'react';
import { Link } from 'react-router';
import { useSiteRecord } from '../api/useApi.js';
import { FailedState, LoadingState } from '../shared/states.js';
import { LabelsDialog } from './LabelsDialog.js';
import { RecordParts } from './RecordParts.js';
import styles from './Record.module.css';

/** What is handed over of the whole site: on screen as it is printed. */
export default function SiteRecordPage() {
  const { data: record, error } = useSiteRecord();
  const [labels, setLabels] = useState(false);
  if (!record) return error ? <FailedState error={error} /> : <LoadingState />;
  const open = record.circuits.filter((c) => c.open.length > 0);
  return (
    <div>
      <div className={styles.head}>
        <div>
          <h1>Handover of {record.site}</h1>
          <span className="muted">
            {record.made}, {record.who}
          </span>
        </div>
        <div className={styles.actions}>
          <Button variant="outlined" onClick={() => setLabels(true)}>
            Labels
          </Button>
          <Button variant="contained" href="/api/records/site.pdf" target="_blank" rel="noreferrer">
            Handover pack as PDF
          </Button>
        </div>
      </div>
      <RecordParts sections={record.sections} />
      <section className={styles.part} aria-label="What is open">
        <h2>What is open</h2>
        {open.length === 0 ? (
          <p>Nothing.</p>
        ) : (
          <ul className={styles.open}>
            {open.map((c) => (
              <li key={c.nodeId}>
                <Link to={`/bench?at=${c.nodeId}&do=record`}>{c.title}</Link>:{' '}
                <span className="warn">{c.open.join(' ')}</span>
              </li>
            ))}
          </ul>
        )}
      </section>
      {record.circuits.map((c) => (
        <section key={c.nodeId} className={styles.circuit} aria-label={c.title}>
          <h1>{c.title}</h1>
          <span className="muted">{c.place}</span>
          <RecordParts sections={c.sections} />
        </section>
      ))}
      {labels && <LabelsDialog nodes={null} onClose={() => setLabels(false)} />}
    </div>
  );
}
