import type { InstallationNode } from '@loka/contract/installation';
import type { PastProposed, PastWay } from '@loka/contract/verify';
import { fromSiteClock, siteClock } from '@loka/core/time';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { useNotices } from '../shared/notices.js';
import { usePeriod } from '../shared/period.js';
import { CheckMark } from './CheckMark.js';
import styles from './PastPanel.module.css';
import { InstantField } from '../shared/DateFields.js';

const LOCAL = "yyyy-MM-dd'T'HH:mm";

const WORDS: Record<PastWay, { title: string; does: string }> = {
  correct: {
    title: 'Correct it',
    does: 'What was read then is shown as it would have read, wired right. What is stored stays as it was read.',
  },
  strike: {
    title: 'Do not count it',
    does: 'What was read then is left out of energy, profiles and coverage. It stays stored and can be put back.',
  },
  leave: { title: 'Leave it', does: 'It still counts as it was read.' },
};

/** After a fault is mended: since when it stood, and what becomes of what was read meanwhile. */
export function PastPanel({ node, past }: { node: InstallationNode; past: PastProposed }) {
  const { zone } = usePeriod();
  const { attempt, say } = useNotices();
  const [since, setSince] = useState(siteClock(zone, past.since, LOCAL));
  const [way, setWay] = useState<PastWay>(past.ways[0] ?? 'leave');
  const [busy, setBusy] = useState(false);
  const decide = () =>
    void attempt(async () => {
      setBusy(true);
      try {
        await api(`/verifications/${node.id}/mended`, 'POST', {
          since: fromSiteClock(zone, since),
          until: past.until,
          way,
          recordId: past.recordId,
        });
        await mutate(() => true);
        say(`${WORDS[way].title}: done.`);
      } finally {
        setBusy(false);
      }
    });
  return (
    <section className={styles.past} aria-label="What was read while the fault stood">
      <h2>
        <CheckMark verdict="do-now" /> What was read while it was wired wrongly?
      </h2>
      <InstantField
        label="Since"
        value={since}
        onChange={setSince}
        helperText={`${past.because} Mended ${siteClock(zone, past.until, 'd LLL HH:mm')}.`}
      />
      <div role="radiogroup" aria-label="What to do with it">
        {past.ways.map((name) => (
          <label key={name} aria-label={WORDS[name].title}>
            <input type="radio" name="past" checked={way === name} onChange={() => setWay(name)} />
            <span>
              <strong>{WORDS[name].title}</strong> <span className="muted">{WORDS[name].does}</span>
            </span>
          </label>
        ))}
      </div>
      <Button variant="contained" disabled={busy || since === ''} onClick={decide}>
        {WORDS[way].title}
      </Button>
    </section>
  );
}
