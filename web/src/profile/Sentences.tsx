import type { Sentence } from './parts.js';
import { Said } from './Said.js';
import styles from './Sentences.module.css';

/** Sentences one below the other, each with how it is known. */
export function Sentences({
  all,
  answer = false,
  wide = false,
}: {
  all: readonly Sentence[];
  /** Whether the first one is the answer to what was asked. */
  answer?: boolean;
  /** In two columns where there is room. */
  wide?: boolean;
}) {
  return (
    <ul className={styles.sentences} data-wide={wide}>
      {all.map((sentence, i) => (
        <li key={i} data-answer={answer && i === 0}>
          <Said parts={sentence.says} />
          <small>{sentence.known}</small>
        </li>
      ))}
    </ul>
  );
}
