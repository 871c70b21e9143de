import { KIND_RULES, type DashboardElement } from '@loka/core/dashboards';
import { isReadable } from '@loka/core/points';
import { lazy, Suspense, useMemo, type ReactNode } from 'react';
import { SwitchPanel } from '../../control/SwitchPanel.js';
import { Command } from '../../devices/Command.js';
import { JobMarks } from '../../installation/JobMarks.js';
import { PictureImage } from '../../pictures/PictureImage.js';
import { Reading } from '../../shared/Reading.js';
import { useFacts } from '../facts.js';
import { shownBy, titleOf, type Shown } from '../shown.js';
import { AlertsElement } from './AlertsElement.js';
import { DialElement } from './DialElement.js';
import styles from './elements.module.css';
import { NumberElement } from './NumberElement.js';

// What draws charts comes when the first one is drawn.
const PARTS = {
  trend: () => import('./TrendElement.js'),
  bars: () => import('./BarsElement.js'),
  ranking: () => import('./RankingElement.js'),
  typicalDay: () => import('./TypicalDayElement.js'),
  flow: () => import('./FlowElement.js'),
  plan: () => import('./PlanElement.js'),
};
const TrendElement = lazy(PARTS.trend);
const BarsElement = lazy(PARTS.bars);
const RankingElement = lazy(PARTS.ranking);
const TypicalDayElement = lazy(PARTS.typicalDay);
const FlowElement = lazy(PARTS.flow);
const PlanElement = lazy(PARTS.plan);

/** Fetches what draws any element: a wall must be able to show its next dashboard while the server is away. */
export const fetchAllElements = async (): Promise<void> => {
  await Promise.all(Object.values(PARTS).map((fetch) => fetch()));
};

/** An element with its title: on the sheet, on a phone, on a wall. */
export function ElementView({
  element,
  onChoose,
}: {
  element: DashboardElement;
  /** Chooses something else to show; missing where nothing is edited. */
  onChoose?: (() => void) | undefined;
}) {
  const facts = useFacts();
  const shown = useMemo(() => element.shows.map((s) => shownBy(s, facts)), [element.shows, facts]);
  const there = useMemo(() => shown.filter((s) => s !== null), [shown]);
  const gone = shown.length - there.length;
  const title = titleOf(element, facts);
  return (
    <section className={styles.element} data-kind={element.kind} aria-label={title || 'Text'}>
      {title && <h3>{title}</h3>}
      <div className={styles.body}>
        {KIND_RULES[element.kind].most > 0 && there.length === 0 ? (
          <p className={styles.gone}>
            {gone > 0
              ? 'What it showed is no longer there: it was removed, or its place was.'
              : 'Nothing has been chosen yet.'}
            {onChoose && (
              <button type="button" className={styles.choose} onClick={onChoose}>
                Choose another
              </button>
            )}
          </p>
        ) : (
          <>
            <Suspense fallback={<p className="muted">Loading …</p>}>
              <Body element={element} shown={there} />
            </Suspense>
            {gone > 0 && (
              <p className={styles.gone}>
                {gone} of {shown.length} is no longer there.
              </p>
            )}
          </>
        )}
      </div>
    </section>
  );
}

function Body({ element, shown }: { element: DashboardElement; shown: Shown[] }): ReactNode {
  const [first] = shown;
  if (element.kind === 'text') return <p className={styles.text}>{element.text || 'Write here.'}</p>;
  if (!first) return null;
  switch (element.kind) {
    case 'number':
      return <NumberElement element={element} shown={first} />;
    case 'dial':
    case 'level':
      return <DialElement element={element} shown={first} />;
    case 'trend':
      return <TrendElement element={element} shown={shown} />;
    case 'bars':
      return <BarsElement element={element} shown={first} />;
    case 'ranking':
      return <RankingElement element={element} shown={first} />;
    case 'typical-day':
      return <TypicalDayElement element={element} shown={first} />;
    case 'flow':
      return <FlowElement element={element} shown={first} />;
    case 'switch':
      return first.entity ? <SwitchPanel entity={first.entity} /> : null;
    case 'command':
      return first.point ? (
        <div className={styles.command}>
          {isReadable(first.point.definition) && <Reading point={first.point} brief />}
          <Command point={first.point} />
        </div>
      ) : null;
    case 'alerts':
      return <AlertsElement shown={first} />;
    case 'plan':
      return first.plan ? <PlanElement plan={first.plan} /> : null;
    case 'picture':
      return first.picture ? (
        <PictureImage
          key={first.picture.id}
          picture={first.picture}
          alt={first.picture.name}
          className={styles.picture}
          drawing={first.picture.type !== 'image/jpeg'}
        />
      ) : null;
    case 'job':
      return first.node ? (
        <p className={styles.job}>
          <JobMarks node={first.node} words />
        </p>
      ) : null;
  }
}
