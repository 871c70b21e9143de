import { useEffect, useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import { siteClock } from '@loka/core/time';
import { useConnection } from '../api/live.js';
import { useNow } from '../api/clock.js';
import { useAlerts, useDashboards } from '../api/useApi.js';
import { fetchAllElements } from './elements/ElementView.js';
import { DeskSheet } from './DeskSheet.js';
import { FactsProvider, readyOf, useLoadedFacts } from './facts.js';
import { isWithin, wallOf } from './wall.js';
import styles from './WallPage.module.css';

/** Dashboards on a screen that nobody touches: the whole screen, several in turn, dimmed at the hours that were set. */
export default function WallPage() {
  const [search] = useSearchParams();
  const wall = useMemo(() => wallOf(search), [search]);
  const facts = useLoadedFacts();
  const { data: made } = useDashboards();
  const { data: alerts = [] } = useAlerts();
  const up = useConnection();
  const now = useNow(1000);
  const [turn, setTurn] = useState(0);
  useEffect(() => {
    const timer = setInterval(() => setTurn((t) => t + 1), wall.every * 1000);
    return () => clearInterval(timer);
  }, [wall.every]);
  useScreenAwake();
  // What fails is fetched again when it is drawn, and told then.
  useEffect(() => void fetchAllElements().catch(() => undefined), []);
  const all = useMemo(
    () =>
      facts && made
        ? wall.show.flatMap((key) => {
            const own = made.find((d) => String(d.id) === key);
            if (own) return { name: own.name, content: own.content };
            return readyOf(facts).find((d) => d.key === key) ?? [];
          })
        : null,
    [facts, made, wall.show],
  );
  const one = all && all.length > 0 ? all[turn % all.length] : undefined;
  const minutes = facts ? minuteOfDay(facts.zone, now) : 0;
  const dim = wall.dim !== null && isWithin(minutes, wall.dim);
  return (
    <div className={styles.wall} data-dim={dim}>
      <header className={styles.head}>
        <h1>{one?.name ?? 'Loka'}</h1>
        {all && all.length > 1 && (
          <span className="muted">
            {(turn % all.length) + 1} of {all.length}
          </span>
        )}
        <span className={styles.space} />
        {!up && <span className="warn">Loka does not answer; this is as it was</span>}
        {alerts.length > 0 && (
          <span className="danger">
            {alerts.length} {alerts.length === 1 ? 'alert' : 'alerts'}
          </span>
        )}
        <span className="measured">{facts ? siteClock(facts.zone, now, 'HH:mm') : ''}</span>
      </header>
      <main className={styles.sheet}>
        {facts && one ? (
          <FactsProvider value={facts}>
            <DeskSheet elements={one.content.elements} fill />
          </FactsProvider>
        ) : (
          <p className={styles.none}>
            {all === null
              ? 'Waiting for Loka …'
              : 'None of the dashboards that this wall shows is there any more.'}
          </p>
        )}
      </main>
    </div>
  );
}

const minuteOfDay = (zone: string, t: number): number =>
  Number(siteClock(zone, t, 'H')) * 60 + Number(siteClock(zone, t, 'm'));

/** Keeps the screen on where the browser can; asked again each time that the page comes back. */
function useScreenAwake(): void {
  useEffect(() => {
    let lock: WakeLockSentinel | null = null;
    const ask = () => {
      if (document.visibilityState !== 'visible' || !('wakeLock' in navigator)) return;
      // Refused on battery or without https: the wall's own settings keep it on then.
      navigator.wakeLock.request('screen').then(
        (given) => (lock = given),
        () => undefined,
      );
    };
    ask();
    document.addEventListener('visibilitychange', ask);
    return () => {
      document.removeEventListener('visibilitychange', ask);
      void lock?.release();
    };
  }, []);
}
