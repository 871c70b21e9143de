import type { PlaceProfile } from '@loka/contract/profile';
import { siteClock } from '@loka/core/time';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { Measured } from '../shared/Measured.js';
import { durationInWords } from '../shared/duration.js';
import { PlainTable } from '../shared/PlainTable.js';
import styles from './Profiles.module.css';

const PAGE = 20;

/** Every run that was seen whole, the latest or the longest first; each goes to where it stands in the trend. */
export function RunList({
  profile: { runs },
  zone,
  onOpen,
}: {
  profile: PlaceProfile;
  zone: string;
  onOpen: (span: { start: number; end: number }) => void;
}) {
  const [longest, setLongest] = useState(false);
  const [shown, setShown] = useState(PAGE);
  if (!runs?.figures) return null;
  const { list, figures } = runs;
  const sorted = [...list].sort((a, b) =>
    longest ? b.end - b.start - (a.end - a.start) : b.start - a.start,
  );
  return (
    <details className={styles.runs}>
      <summary>
        {list.length < figures.count
          ? `The last ${list.length} of ${figures.count} runs`
          : `All ${list.length} runs`}
      </summary>
      <p>
        {[false, true].map((by) => (
          <button
            key={String(by)}
            type="button"
            className={styles.type}
            aria-pressed={longest === by}
            onClick={() => setLongest(by)}
          >
            {by ? 'Longest first' : 'Latest first'}
          </button>
        ))}
      </p>
      <PlainTable head={['Began', 'Ran#', 'Energy above standby#', 'Highest#', '']}>
        {sorted.slice(0, shown).map((run) => (
          <tr key={run.start}>
            <td className="measured">{siteClock(zone, run.start, 'ccc d LLL HH:mm')}</td>
            <td className="number measured">{durationInWords(run.end - run.start)}</td>
            <td className="number">
              <Measured value={run.energy} unit="Wh" />
            </td>
            <td className="number">
              <Measured value={run.peak} unit="W" />
            </td>
            <td>
              <Button size="small" onClick={() => onOpen(run)}>
                In the trend
              </Button>
            </td>
          </tr>
        ))}
      </PlainTable>
      {shown < sorted.length && <Button onClick={() => setShown(shown + 5 * PAGE)}>Show more</Button>}
    </details>
  );
}
