import type { InstallationNode } from '@loka/contract/installation';
import type { RecordKind, Verification, VerificationRecord } from '@loka/contract/verify';
import { isProven } from '@loka/core/verify';
import { siteClock } from '@loka/core/time';
import Button from '@mui/material/Button';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { JobMarks } from '../installation/JobMarks.js';
import { useNotices } from '../shared/notices.js';
import { usePeriod } from '../shared/period.js';
import { CheckMark } from './CheckMark.js';
import styles from './VerdictBar.module.css';

/** As found, as left, how far the job is, and the next thing to record. */
export function VerdictBar({ node, verification }: { node: InstallationNode; verification: Verification }) {
  const { zone } = usePeriod();
  const { attempt, say } = useNotices();
  const { records, checks, stepTest } = verification;
  const foundAt = records.findIndex((r) => r.kind === 'as-found');
  const found = records[foundAt];
  // Only what was recorded after it has been left so.
  const left = records.slice(0, foundAt < 0 ? undefined : foundAt).find((r) => r.kind === 'as-left');
  const failing = checks.some((c) => c.verdict === 'fail');
  const proven = isProven(checks);
  const put = (kind: RecordKind) =>
    void attempt(async () => {
      const record = await api<VerificationRecord>(`/verifications/${node.id}/records`, 'POST', { kind });
      await Promise.all([mutate(`/verifications/${node.id}`), mutate('/installation')]);
      say(record.proven ? `${node.name} is verified.` : 'Recorded as found.');
    });
  const lookAgain = () =>
    void attempt(async () => {
      await api(`/verifications/${node.id}/look-anew`, 'POST');
      await mutate(`/verifications/${node.id}`);
      say('Only readings from now on count. Switch the load once more.');
    });
  return (
    <footer className={styles.verdict}>
      <div className={styles.said}>
        <Put title="As found" record={found} zone={zone} />
        <Put title="As left" record={left} zone={zone} />
        <div>
          <span className={styles.caption}>Job</span>
          <JobMarks node={node} />
        </div>
      </div>
      <div className={styles.acts} data-step-test={stepTest !== null && stepTest.endedAt === null}>
        {failing && (
          <Button variant="outlined" onClick={() => put('as-found')}>
            Record as found
          </Button>
        )}
        {(failing || (found && found.faults.length > 0 && !left)) && (
          <Button variant={failing ? 'contained' : 'outlined'} onClick={lookAgain}>
            Rewired: look again
          </Button>
        )}
        {!failing && (
          <Button
            variant="contained"
            disabled={!proven}
            title={proven ? '' : 'Switch a load first: no load has been seen yet.'}
            onClick={() => put('as-left')}
          >
            Verified
          </Button>
        )}
      </div>
    </footer>
  );
}

function Put({
  title,
  record,
  zone,
}: {
  title: string;
  record: VerificationRecord | undefined;
  zone: string;
}) {
  const failed = record?.checks.find((c) => c.verdict === 'fail');
  return (
    <div className={styles.put}>
      <span className={styles.caption}>
        {title}
        {record && `, ${siteClock(zone, record.at, 'd LLL HH:mm')}`}
      </span>
      {record ? (
        <strong>
          <CheckMark verdict={failed ? 'fail' : record.proven ? 'pass' : 'cannot-tell'} />{' '}
          {failed?.says ?? (record.proven ? 'Wired right.' : 'Nothing speaks against it.')}
        </strong>
      ) : (
        <span className="muted">not recorded</span>
      )}
      {record?.past && <span className={styles.caption}>{record.past}</span>}
    </div>
  );
}
