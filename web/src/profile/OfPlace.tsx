import type { InstallationNode } from '@loka/contract/installation';
import type { PlaceProfile } from '@loka/contract/profile';
import type { Site } from '@loka/contract/site';
import { siteClock, textOfSpan } from '@loka/core/time';
import Button from '@mui/material/Button';
import { useMemo } from 'react';
import { Link, useNavigate } from 'react-router';
import { isRefused } from '../api/client.js';
import { useNow } from '../api/clock.js';
import { useProfile } from '../api/useApi.js';
import { InOrder } from '../shared/InOrder.js';
import { nodeTitle } from '../shared/nodes.js';
import { usePeriod } from '../shared/period.js';
import { PlacePath } from '../shared/PlacePath.js';
import { EmptyState, FailedState, LoadingState } from '../shared/states.js';
import { Backup } from './backup/Backup.js';
import { BesidePlaces } from './places/BesidePlaces.js';
import { Carpet } from './Carpet.js';
import { Compared } from './Compared.js';
import { Duration } from './duration/Duration.js';
import { Evidence } from './Evidence.js';
import { findingsOf } from './findings.js';
import styles from './Profiles.module.css';
import { PhaseLoad } from './phases/PhaseLoad.js';
import { RunList } from './RunList.js';
import { Said } from './Said.js';
import { Steps } from './steps/Steps.js';
import { TypicalDay } from './TypicalDay.js';
import { useCopySentences } from './useCopySentences.js';
import { Voltage } from './voltage/Voltage.js';
import { Weather } from './weather/Weather.js';
import { WhatIf } from './whatIf/WhatIf.js';

const HOUR = 3_600_000;
const MINUTE = 60_000;
const FIVE_MINUTES = 300_000;

/** What one place does, and what follows from it. */
export function OfPlace({
  node,
  nodes,
  site,
  part = false,
}: {
  node: InstallationNode;
  nodes: InstallationNode[];
  site: Site;
  /** Whether it is a part of the place's own page: that has the name already, and what follows is left to the profiles. */
  part?: boolean;
}) {
  const { span, zone, words, name, beside } = usePeriod();
  // What goes on with the clock is found again every five minutes; nothing of it changes much sooner.
  const end = Math.ceil(span.end / FIVE_MINUTES) * FIVE_MINUTES;
  const { data: profile, error, isLoading, mutate } = useProfile(node.id, span.start, end);
  const besideEnd = beside ? Math.ceil(beside.until / FIVE_MINUTES) * FIVE_MINUTES : 0;
  const before = useProfile(beside ? node.id : null, beside?.span.start ?? 0, besideEnd);
  // What was asked before stays until the next is there; it is not what is set beside now.
  const isThen =
    before.data?.nodeId === node.id &&
    Math.abs(before.data.from - (beside?.span.start ?? 0)) < FIVE_MINUTES * 3;
  const then = beside && isThen && !isLoading ? (before.data ?? null) : null;
  // What follows from its power; of what only counts nothing does.
  const follows = !part && profile !== undefined && profile.known > 0 && profile.source === 'power';
  return (
    <div className={styles.page} aria-busy={isLoading}>
      <header className={styles.head}>
        {!part && (
          <>
            <h1>{nodeTitle(node)}</h1>
            <PlacePath node={node} nodes={nodes} />
          </>
        )}
        {profile && profile.nodeId === node.id && !isRefused(error) && (
          <p className="muted">
            {isLoading ? 'Working it out; still shown' : words} ·{' '}
            {siteClock(zone, profile.from, 'd LLL HH:mm')} to {siteClock(zone, profile.to, 'd LLL HH:mm')} ·{' '}
            {((100 * profile.known) / Math.max(1, profile.to - profile.from)).toFixed(1)} % of it was read
            {profile.summed && ` · ${sumInWords(profile.summed, profile.without, nodes)}`}
            {!part && (
              <>
                {' · '}
                <Link to={`/report?at=${node.id}&period=${encodeURIComponent(name)}`}>Report</Link>
              </>
            )}
          </p>
        )}
      </header>
      {error && (!profile || isRefused(error)) ? (
        isRefused(error) && error.problem.status === 409 ? (
          <EmptyState title="Nothing measures its power">
            A profile is found from a power that is recorded, of this place or of what lies behind it. Choose
            one that has it in the drawing on the left.
          </EmptyState>
        ) : (
          <FailedState error={error} retry={() => void mutate()} />
        )
      ) : !profile || profile.nodeId !== node.id ? (
        <LoadingState />
      ) : (
        <InOrder>
          {beside && (
            <Compared profile={profile} then={then} title={`Beside ${beside.words}`} error={before.error} />
          )}
          <Found profile={profile} then={then} site={site} zone={zone} />
          {!part && profile.known > 0 && (
            <BesidePlaces node={node} nodes={nodes} profile={profile} from={span.start} to={end} />
          )}
          {!part && profile.known > 0 && !node.feedsIn && (
            <Weather
              nodeId={node.id}
              now={{ from: span.start, to: end }}
              beside={beside ? { from: beside.span.start, to: besideEnd, words: beside.words } : null}
            />
          )}
          {follows && <Duration nodeId={node.id} from={span.start} to={end} zone={zone} />}
          {follows && !node.feedsIn && (
            <Backup node={node} nodes={nodes} from={span.start} to={end} zone={zone} />
          )}
          {follows && !node.feedsIn && (
            <WhatIf node={node} nodes={nodes} from={span.start} to={end} site={site} />
          )}
          {follows && !node.feedsIn && <Steps nodeId={node.id} from={span.start} to={end} zone={zone} />}
          {follows && <PhaseLoad nodeId={node.id} nodes={nodes} from={span.start} to={end} zone={zone} />}
          {follows && <Voltage nodeId={node.id} from={span.start} to={end} zone={zone} />}
        </InOrder>
      )}
    </div>
  );
}

/** Which places a sum is made of, and which not; names where there are few. */
function sumInWords(
  summed: readonly number[],
  without: readonly number[],
  nodes: readonly InstallationNode[],
): string {
  const inWords = (ids: readonly number[], many: string) =>
    ids.length <= 5
      ? ids.map((id) => nodes.find((n) => n.id === id)?.name ?? 'a removed place').join(', ')
      : `${ids.length} ${many}`;
  const sum = `nothing measures it: the sum of ${inWords(summed, 'metered places behind it')}`;
  return without.length === 0
    ? sum
    : `${sum}; without ${inWords(without, 'others')}, read for too little of this period`;
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
  const copy = useCopySentences();
  if (findings.length === 0)
    return (
      <EmptyState title="Nothing was read in this period">
        Choose another one at the top: a week or a month says most.
      </EmptyState>
    );
  const open = (span: { start: number; end: number }) => {
    const period = textOfSpan(zone, { start: Math.round(span.start), end: Math.round(span.end) });
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
        <Carpet profile={profile} zone={zone} onOpen={(t) => open({ start: t - HOUR, end: t + HOUR })} />
        <TypicalDay profile={profile} site={site} then={then} />
        <RunList
          profile={profile}
          zone={zone}
          onOpen={({ start, end }) =>
            open({ start: start - (end - start) / 2 - MINUTE, end: end + (end - start) / 2 + MINUTE })
          }
        />
      </div>
    </div>
  );
}
