import { lazy, Suspense, useState } from 'react';
import { Outlet, useLocation } from 'react-router';
import { useConnection } from '../api/live.js';
import { usePoints, useSite } from '../api/useApi.js';
import { FailedState, LoadingState } from '../shared/states.js';
import { useSelection } from '../shared/nodes.js';
import { Head } from './Head.js';
import { LeaveGuard } from './LeaveGuard.js';
import { JobStrip } from './JobStrip.js';
import { Palette } from './Palette.js';
import { Spine } from './Spine.js';
import { ZoneNote } from './ZoneNote.js';
import { WorkAreas } from './WorkAreas.js';
import styles from './Frame.module.css';

const FirstSteps = lazy(() => import('../installation/FirstSteps.js'));

/** The frame of every screen: head, spine, work areas, and the work area in the middle. */
export function Frame() {
  const { data, error, mutate } = useSite();
  const up = useConnection();
  const { data: points } = usePoints();
  const { pathname } = useLocation();
  const [at] = useSelection();
  const [folded, setFolded] = useState(() => localStorage.getItem('loka.spine') === 'folded');
  if (error && !data) return <FailedState error={error} retry={() => void mutate()} />;
  if (!data) return <LoadingState />;
  if (!data.site)
    return (
      <>
        <Suspense fallback={<LoadingState />}>
          <FirstSteps />
        </Suspense>
        <LeaveGuard />
      </>
    );
  const fold = () => {
    localStorage.setItem('loka.spine', folded ? 'open' : 'folded');
    setFolded(!folded);
  };
  // On a phone the spine is the first screen, and gives way to what has been chosen in it; on a site on which nothing is
  // measured yet the question for its first meter comes first.
  const spineFirst = pathname === '/board' && at === null && points?.length !== 0;
  return (
    <div className={styles.frame} data-folded={folded} data-spine-first={spineFirst}>
      <a className={styles.skip} href="#work">
        To the work area
      </a>
      <Head site={data.site} />
      <Spine folded={folded} onFold={fold} />
      <div className={styles.middle}>
        <WorkAreas />
        {!up && (
          <p className={styles.down} role="status">
            The connection to Loka is lost; reconnecting. You see the last known state.
          </p>
        )}
        <ZoneNote />
        <JobStrip />
        <main id="work" className={styles.work} tabIndex={-1}>
          <Suspense fallback={<LoadingState />}>
            <Outlet />
          </Suspense>
        </main>
      </div>
      <Palette />
      <LeaveGuard />
    </div>
  );
}
