import Button from '@mui/material/Button';
import type { ReactNode } from 'react';
import { inWords } from '../api/client.js';
import type { Sentence } from './parts.js';
import styles from './Profiles.module.css';
import { Sentences } from './Sentences.js';
import { useCopySentences } from './useCopySentences.js';

/** An answer in sentences under its title; while it is worked out, and where it could not be, it says so. */
export function Answer({
  label,
  title,
  note,
  sentences,
  error,
  nothing,
  wide = false,
  children,
}: {
  /** What it is called to somebody who does not see it. */
  label: string;
  title: string;
  note?: string;
  /** Null while it is worked out. */
  sentences: readonly Sentence[] | null;
  error: Error | undefined;
  /** What to say where there are none. */
  nothing?: string;
  /** In two columns where there is room. */
  wide?: boolean;
  /** Below them. */
  children?: ReactNode;
}) {
  const copy = useCopySentences();
  const told = error ? [] : (sentences ?? []);
  return (
    <section aria-label={label}>
      <header className={styles.title}>
        <h2>{title}</h2>
        {note && <small>{note}</small>}
        <span className={styles.space} />
        {told.length > 0 && <Button onClick={() => copy(told)}>Copy all</Button>}
      </header>
      {error && <p role="alert">{inWords(error)}</p>}
      {!error && sentences === null && <p className="muted">Working it out …</p>}
      {!error && sentences?.length === 0 && nothing && <p className="muted">{nothing}</p>}
      <Sentences all={told} wide={wide} />
      {!error && children}
    </section>
  );
}
