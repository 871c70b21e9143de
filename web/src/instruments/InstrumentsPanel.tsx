import type { Instrument } from '@loka/contract/instruments';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { useInstruments } from '../api/useApi.js';
import { PlainTable } from '../shared/PlainTable.js';
import { InstrumentForm } from './InstrumentForm.js';

/** The reference instruments of the site, and until when their own calibration is good. */
export function InstrumentsPanel() {
  const { data: instruments = [] } = useInstruments();
  const [editing, setEditing] = useState<Instrument | 'new' | null>(null);
  return (
    <section aria-label="Reference instruments" style={{ marginTop: 20 }}>
      <h2>Reference instruments</h2>
      <p className="muted">
        What readings are compared with. Each has its own tolerance, and its own day by which it is due.
      </p>
      {instruments.length > 0 && (
        <PlainTable
          head={['Instrument', 'Serial number', 'Tolerance#', 'Certificate', 'Calibrated', 'Due', '']}
        >
          {instruments.map((i) => (
            <tr key={i.id}>
              <td>{i.name}</td>
              <td className="measured">{i.serial || '–'}</td>
              <td className="number measured">±{i.percent} %</td>
              <td>{i.certificate || '–'}</td>
              <td className="measured">{i.calibratedOn ?? '–'}</td>
              <td className={i.isDue ? 'danger' : ''}>
                {i.dueOn === null ? (
                  <span className="muted">not given</span>
                ) : i.isDue ? (
                  `${i.dueOn}, past`
                ) : (
                  i.dueOn
                )}
              </td>
              <td>
                <Button onClick={() => setEditing(i)} aria-label={`Change ${i.name}`}>
                  Change
                </Button>
              </td>
            </tr>
          ))}
        </PlainTable>
      )}
      <Button variant="outlined" onClick={() => setEditing('new')}>
        Add an instrument
      </Button>
      {editing && (
        <InstrumentForm
          {...(editing === 'new' ? {} : { instrument: editing })}
          onClose={() => setEditing(null)}
        />
      )}
    </section>
  );
}
