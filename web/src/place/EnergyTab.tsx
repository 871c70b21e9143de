import type { EnergyCalendar } from '@loka/contract/energy';
import type { InstallationNode } from '@loka/contract/installation';
import type { Point } from '@loka/contract/points';
import { CALENDAR_STEPS, siteClock, type CalendarStep, type TimeSpan } from '@loka/core/time';
import { lazy, Suspense, useMemo } from 'react';
import { useSearchParams } from 'react-router';
import { useEnergyCalendar, useRunning, useSite } from '../api/useApi.js';
import { energyBarsOption } from '../charts/energyBars.js';
import { partFormat } from '../charts/calendarBars.js';
import { Figures } from '../shared/Figures.js';
import { meteredParts } from '../shared/nodes.js';
import { usePeriod } from '../shared/period.js';
import { useSheet } from '../theme/useSheet.js';
import { CountersPanel } from './CountersPanel.js';
import { EnergyFigures } from './EnergyFigures.js';
import { EnergyPanel } from './EnergyPanel.js';
import { sumOfPlaces, type PlaceColumns } from './placeColumns.js';
import styles from './PlacePage.module.css';
import { TotalsPanel } from './TotalsPanel.js';

const Chart = lazy(() => import('../charts/Chart.js'));

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const STEP_WORDS: Record<CalendarStep, string> = {
  quarter: 'quarter-hour',
  hour: 'hour',
  day: 'day',
  month: 'month',
};
const LENGTH: Record<CalendarStep, number> = { quarter: HOUR / 4, hour: HOUR, day: DAY, month: 30 * DAY };
/** More bars than that are not told apart. */
const MOST = 400;

/** The steps in which a period can be drawn. */
const stepsFor = ({ start, end }: TimeSpan): CalendarStep[] => {
  const steps = CALENDAR_STEPS.filter(
    (s) => (end - start) / LENGTH[s] <= MOST && (s === 'quarter' || end - start >= LENGTH[s] * 0.9),
  );
  return steps.length > 0 ? steps : ['month'];
};

/** Energy of a place over the period: bars, figures with cost and CO₂, totals that run on, and what is doubted. */
export default function EnergyTab({
  node,
  nodes,
  points,
}: {
  node: InstallationNode;
  nodes: InstallationNode[];
  points: Point[];
}) {
  const { span, zone, words, beside, into } = usePeriod();
  const [search, setSearch] = useSearchParams();
  const { sheet, flows } = useSheet();
  const site = useSite().data?.site ?? null;
  const steps = stepsFor(span);
  const step = steps.find((s) => s === search.get('step')) ?? preferred(steps, span);
  const measured = points.some((p) => p.nodeId === node.id) && isMetered(node, points);
  const parts = measured ? [node] : meteredParts(nodes, node.id);
  const only = measured ? node.id : undefined;
  const { data } = useEnergyCalendar(span.start, span.end, step, only);
  const then = useEnergyCalendar(beside?.span.start ?? 0, beside?.span.end ?? 0, step, only).data;
  const running = useRunning(node.id, span.start, span.end).data?.running ?? null;
  const ids = parts.map((p) => p.id).join(',');
  const of = (calendar: EnergyCalendar | undefined): PlaceColumns | null =>
    calendar ? sumOfPlaces(calendar, ids.split(',').map(Number)) : null;
  const columns = useMemo(() => of(data), [data, ids]); // eslint-disable-line react-hooks/exhaustive-deps -- by what is in them
  const compared = useMemo(() => of(then), [then, ids]); // eslint-disable-line react-hooks/exhaustive-deps -- by what is in them
  const format = columns ? partFormat(columns.borders) : 'HH:mm';
  const kwh = (v: number | null | undefined) => (v == null ? '–' : (v / 1000).toFixed(3));
  return (
    <div className={styles.columns}>
      <div className={styles.side}>
        {measured ? (
          <EnergyPanel node={node} points={points} />
        ) : (
          <p className="muted">
            {parts.length === 0
              ? 'Nothing on it is metered.'
              : `It has no meter of its own: this is the sum of ${parts.map((p) => p.name).join(', ')}.`}
          </p>
        )}
        {measured && <TotalsPanel node={node} site={site} />}
        <CountersPanel node={node} points={points} />
      </div>
      <div className={styles.main}>
        {columns && (
          <EnergyFigures
            columns={columns}
            compared={
              beside && compared ? { columns: compared, until: beside.until, words: beside.words } : null
            }
            running={running}
            words={words}
            site={site}
          />
        )}
        <section aria-label="Energy by parts">
          <div className={styles.bar}>
            <h2>By {STEP_WORDS[step]}</h2>
            <span className={styles.space} />
            <span role="group" aria-label="Parts" className={styles.steps}>
              {steps.map((s) => (
                <button
                  key={s}
                  type="button"
                  aria-pressed={s === step}
                  onClick={() =>
                    setSearch(
                      (before) => {
                        before.set('step', s);
                        return before;
                      },
                      { replace: true },
                    )
                  }
                >
                  {STEP_WORDS[s]}
                </button>
              ))}
            </span>
          </div>
          {columns ? (
            <>
              <Suspense fallback={<div style={{ height: 300 }} />}>
                <Chart
                  option={energyBarsOption(
                    columns,
                    beside && compared ? { name: beside.words, sums: compared.net } : null,
                    zone,
                    sheet,
                    flows,
                  )}
                  height={300}
                  label={`Energy of ${node.name} by ${STEP_WORDS[step]}, ${words}: the table below has the figures`}
                  onPart={(i) =>
                    into({ start: columns.borders[i] as number, end: columns.borders[i + 1] as number })
                  }
                />
              </Suspense>
              <p className="muted">Click a bar twice to go into it; Esc comes back.</p>
              <Figures
                caption={`Energy of ${node.name}, ${words}, kWh`}
                head={[
                  'Part',
                  'In#',
                  'Out#',
                  'Net#',
                  'Known#',
                  ...(compared ? [`Net, ${beside?.words}#`] : []),
                ]}
                rows={columns.borders
                  .slice(0, -1)
                  .map((t, i) => [
                    siteClock(zone, t, format),
                    kwh(columns.import[i]),
                    kwh(columns.export[i]),
                    kwh(columns.net[i]),
                    `${Math.round(100 * (columns.coverage[i] ?? 0))} %`,
                    ...(compared ? [kwh(compared.net[i])] : []),
                  ])}
              />
            </>
          ) : (
            <p className="muted">Loading …</p>
          )}
        </section>
      </div>
    </div>
  );
}

const isMetered = (node: InstallationNode, points: readonly Point[]): boolean =>
  node.powerPointIds.length > 0 ||
  points.some((p) => p.nodeId === node.id && p.definition.quantity.startsWith('energy-'));

/** Fine enough to see the day, and few enough to be told apart. */
function preferred(steps: readonly CalendarStep[], { start, end }: TimeSpan): CalendarStep {
  const wanted: CalendarStep =
    end - start > 100 * DAY
      ? 'month'
      : end - start > 3 * DAY
        ? 'day'
        : end - start > 6 * HOUR
          ? 'hour'
          : 'quarter';
  return steps.includes(wanted) ? wanted : (steps[0] as CalendarStep);
}
