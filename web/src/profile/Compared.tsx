import type { PlaceProfile } from '@loka/contract/profile';
import Button from '@mui/material/Button';
import { inWords } from '../api/client.js';
import { useWaits } from '../shared/InOrder.js';
import { comparedSays } from './compared.js';
import styles from './Profiles.module.css';
import { Sentences } from './Sentences.js';
import { useCopySentences } from './useCopySentences.js';

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
  useWaits(!then && !error);
  const sentences = then ? comparedSays(profile, then) : [];
  const copy = useCopySentences();
  return (
    <section aria-label="Beside another period">
      <header className={styles.title}>
        <h2>{title}</h2>
        <span className={styles.space} />
        {sentences.length > 0 && <Button onClick={() => copy(sentences)}>Copy all</Button>}
      </header>
      {error !== undefined && !then ? (
        <p role="alert">{inWords(error)}</p>
      ) : !then ? (
        <p className="muted">Working it out …</p>
      ) : sentences.length === 0 ? (
        <p className="muted">Nothing was read in that period, so there is nothing to compare with.</p>
      ) : (
        <Sentences all={sentences} wide />
      )}
    </section>
  );
}
