import type { InstallationNode } from '@loka/contract/installation';
import type { PlaceProfile } from '@loka/contract/profile';
import type { Site } from '@loka/contract/site';
import { siteClock, textOfSpan } from '@loka/core/time';
import Button from '@mui/material/Button';
import { useMemo } from 'react';
import { useNavigate } from 'react-router';
import { ApiError } from '../api/client.js';
import { useNow } from '../api/clock.js';
import { useInstallation, useProfile, useSite } from '../api/useApi.js';
import { nodeTitle, useSelection } from '../shared/nodes.js';
import { useNotices } from '../shared/notices.js';
import { usePeriod } from '../shared/period.js';
import { PlacePath } from '../shared/PlacePath.js';
import { EmptyState, FailedState, LoadingState } from '../shared/states.js';
import { Backup } from './backup/Backup.js';
import { Carpet } from './Carpet.js';
import { Compared } from './Compared.js';
import { Evidence } from './Evidence.js';
import { findingsOf, type Finding } from './findings.js';
import { textOf } from './parts.js';
import styles from './Profiles.module.css';
import { Said } from './Said.js';
import { TypicalDay } from './TypicalDay.js';

const HOUR = 3_600_000;
const FIVE_MINUTES = 300_000;

/** What loads do: found from their power, in sentences, with the pictures that show it. */
export default function ProfilesPage() {
  const { data: nodes, error, mutate } = useInstallation();
  const site = useSite().data?.site ?? null;
  const [at] = useSelection();
  if (error && !nodes) return <FailedState error={error} retry={() => void mutate()} />;
  if (!nodes || !site) return <LoadingState />;
  const chosen = nodes.find((n) => n.id === at);
  if (at !== null && !chosen)
    return (
      <EmptyState title="This place is no longer there">
        It was taken off the installation. Choose another one in the drawing on the left.
      </EmptyState>
    );
  const node = chosen ?? nodes.find((n) => n.powerPointIds.length > 0);
  if (!node)
    return (
      <EmptyState title="Nothing is measured yet">
        A profile is found from a power that is recorded. Connect a meter in the Field first.
      </EmptyState>
    );
  return <OfPlace key={node.id} node={node} nodes={nodes} site={site} />;
}

function OfPlace({ node, nodes, site }: { node: InstallationNode; nodes: InstallationNode[]; site: Site }) {
  const { span, zone, words, beside } = usePeriod();
  // What goes on with the clock is found anew every five minutes; nothing of it changes much sooner.
  const end = Math.ceil(span.end / FIVE_MINUTES) * FIVE_MINUTES;
  const { data: profile, error, mutate } = useProfile(node.id, span.start, end);
  const before = useProfile(
    beside ? node.id : null,
    beside?.span.start ?? 0,
    beside ? Math.ceil(beside.until / FIVE_MINUTES) * FIVE_MINUTES : 0,
  );
  // What was asked before stays until the next is there; it is not what is set beside now.
  const isThen =
    before.data?.nodeId === node.id &&
    Math.abs(before.data.from - (beside?.span.start ?? 0)) < FIVE_MINUTES * 3;
  const then = beside && isThen ? (before.data ?? null) : null;
  return (
    <div className={styles.page}>
      <header className={styles.head}>
        <h1>{nodeTitle(node)}</h1>
        <PlacePath node={node} nodes={nodes} />
        {profile && profile.nodeId === node.id && (
          <p className="muted">
            {words} · {siteClock(zone, profile.from, 'd LLL HH:mm')} to{' '}
            {siteClock(zone, profile.to, 'd LLL HH:mm')} ·{' '}
            {((100 * profile.known) / Math.max(1, profile.to - profile.from)).toFixed(1)} % of it was read
          </p>
        )}
      </header>
      {error && !profile ? (
        error instanceof ApiError && error.problem.status === 409 ? (
          <EmptyState title="Nothing measures its power">
            A profile is found from a power that is recorded. Choose a place that has one in the drawing on
            the left.
          </EmptyState>
        ) : (
          <FailedState error={error} retry={() => void mutate()} />
        )
      ) : !profile || profile.nodeId !== node.id ? (
        <LoadingState />
      ) : (
        <>
          {beside && (
            <Compared profile={profile} then={then} title={`Beside ${beside.words}`} error={before.error} />
          )}
          <Found profile={profile} then={then} site={site} zone={zone} />
          {profile.known > 0 && !node.feedsIn && (
            <Backup node={node} nodes={nodes} from={span.start} to={end} zone={zone} />
          )}
        </>
      )}
    </div>
  );
}

function Found({
  profile,
  then,
  site,
  zone,
}: {
  profile: PlaceProfile;
  then: PlaceProfile | null;
  site: Site;
  zone: string;
}) {
  const now = useNow(60_000);
  const findings = useMemo(() => findingsOf(profile, site, now), [profile, site, now]);
  const navigate = useNavigate();
  const { say, attempt } = useNotices();
  if (findings.length === 0)
    return (
      <EmptyState title="Nothing was read in this period">
        Choose another one in the head: a week or a month says most.
      </EmptyState>
    );
  const copy = (all: Finding[]) =>
    void attempt(async () => {
      await navigator.clipboard.writeText(all.map(textOf).join('\n'));
      say(all.length === 1 ? 'Copied.' : 'All of it is copied.');
    });
  const open = (t: number) => {
    const period = textOfSpan(zone, { start: t - HOUR, end: t + HOUR });
    void navigate(`/board?at=${profile.nodeId}&period=${encodeURIComponent(period)}`);
  };
  return (
    <div className={styles.both}>
      <section aria-label="What it does">
        <header className={styles.title}>
          <h2>What it does</h2>
          <small>
            {findings.length} findings in{' '}
            {Math.round(profile.known / profile.step)
              .toLocaleString('en-GB')
              .replace(/,/g, ' ')}{' '}
            {profile.step === 60_000 ? 'minutes' : 'quarter-hours'}
          </small>
          <span className={styles.space} />
          <Button onClick={() => copy(findings)}>Copy all</Button>
        </header>
        <ol className={styles.findings}>
          {findings.map((finding, i) => (
            <li key={i}>
              <span className={styles.number}>{i + 1}</span>
              <div>
                <Said parts={finding.says} />
                <small>{finding.known}</small>
              </div>
              <Evidence finding={finding} profile={profile} />
              <button
                type="button"
                className={styles.copy}
                aria-label={`Copy finding ${i + 1}`}
                onClick={() => copy([finding])}
              >
                copy
              </button>
            </li>
          ))}
        </ol>
      </section>
      <div>
        <Carpet profile={profile} zone={zone} onOpen={open} />
        <TypicalDay profile={profile} then={then} />
      </div>
    </div>
  );
}
