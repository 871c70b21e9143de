import type { Verification } from '@loka/contract/verify';
import type { Check } from '@loka/core/verify';
import { Link } from 'react-router';
import { CheckEvidence } from './CheckEvidence.js';
import { CheckMark, VERDICT_WORDS } from './CheckMark.js';
import bench from './VerifyBench.module.css';
import styles from './CheckList.module.css';

/** The checklist: it fills itself from what comes in; what fails is open, with its cause and what to do. */
export function CheckList({ verification }: { verification: Verification }) {
  const { checks } = verification;
  const count = (verdict: Check['verdict']) => checks.filter((c) => c.verdict === verdict).length;
  return (
    <section aria-label="Checks">
      <div className={bench.listTitle}>
        <h2>Checks</h2>
        <span className="muted">from live readings</span>
        <span className={bench.space} />
        <span role="status">
          <span className="ok">{count('pass')} pass</span>
          {count('fail') > 0 && <span className="danger"> · {count('fail')} fail</span>}
          {count('cannot-tell') > 0 && <span className="muted"> · {count('cannot-tell')} cannot tell</span>}
        </span>
      </div>
      <ol className={styles.checks}>
        {checks.map((check, i) => (
          <li key={check.kind} data-verdict={check.verdict}>
            <span className={styles.number}>{i + 1}</span>
            <span className={styles.mark}>
              <CheckMark verdict={check.verdict} />
              <span>{VERDICT_WORDS[check.verdict]}</span>
            </span>
            <div className={styles.says}>
              <p>{check.says}</p>
              {check.rests && <p className={styles.rests}>{check.rests}</p>}
              {check.cause && (
                <p className={styles.cause}>
                  <strong>Likely</strong> {check.cause}
                </p>
              )}
              {check.todo && check.verdict === 'fail' && (
                <p className={styles.todo}>
                  <CheckMark verdict="do-now" size={15} /> {check.todo}
                </p>
              )}
              {check.kind === 'settings' && (
                <Link to={`/field?device=${verification.deviceId}`}>Settings in the device</Link>
              )}
              {check.todo && check.verdict === 'cannot-tell' && <p className={styles.help}>{check.todo}</p>}
            </div>
            <CheckEvidence check={check} verification={verification} />
          </li>
        ))}
      </ol>
    </section>
  );
}
