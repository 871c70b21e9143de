import type { PlaceProfile } from '@loka/contract/profile';
import Button from '@mui/material/Button';
import { inWords } from '../api/client.js';
import { useNotices } from '../shared/notices.js';
import { comparedSays } from './compared.js';
import { textOf } from './parts.js';
import styles from './Profiles.module.css';
import { Said } from './Said.js';

/** What a place does against what it did in the period that is set beside. */
export function Compared({
  profile,
  then,
  title,
  error,
}: {
  profile: PlaceProfile;
  /** Null while it is found. */
  then: PlaceProfile | null;
  title: string;
  error: unknown;
}) {
  const { say, attempt } = useNotices();
  const sentences = then ? comparedSays(profile, then) : [];
  const copy = () =>
    void attempt(async () => {
      await navigator.clipboard.writeText(sentences.map(textOf).join('\n'));
      say('All of it is copied.');
    });
  return (
    <section aria-label="Beside another period" className={styles.compared}>
      <header className={styles.title}>
        <h2>{title}</h2>
        <span className={styles.space} />
        {sentences.length > 0 && <Button onClick={copy}>Copy all</Button>}
      </header>
      {error !== undefined && !then ? (
        <p role="alert">{inWords(error)}</p>
      ) : !then ? (
        <p className="muted">Working it out …</p>
      ) : sentences.length === 0 ? (
        <p className="muted">Nothing was read in that period, so there is nothing to compare with.</p>
      ) : (
        <ul>
          {sentences.map((sentence, i) => (
            <li key={i}>
              <Said parts={sentence.says} />
              <small>{sentence.known}</small>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
