import type { PeriodBalance } from '@loka/contract/balance';
import type { InstallationNode } from '@loka/contract/installation';
import type { Purpose } from '@loka/core/installation';
import { siteClock } from '@loka/core/time';
import { lazy, Suspense, useMemo } from 'react';
import { useSearchParams } from 'react-router';
import { partFormat } from '../charts/calendarBars.js';
import { usesOption, type UseLayer } from '../charts/uses.js';
import { Figures } from '../shared/Figures.js';
import { Measured } from '../shared/Measured.js';
import { usePeriod } from '../shared/period.js';
import { PurposeMark } from '../shared/PurposeMark.js';
import { useSheet } from '../theme/useSheet.js';
import { columnOf, GROUPINGS, groupsOf, isUnmetered, totalOf, type Grouping } from './groups.js';
import styles from './UsesOverTime.module.css';

const Chart = lazy(() => import('../charts/Chart.js'));

const GROUPING_WORDS: Record<Grouping, string> = {
  purpose: 'purpose',
  board: 'board',
  phase: 'phase',
  use: 'each by itself',
};

export interface ComparedUses {
  words: string;
  uses: PeriodBalance['uses'];
}

/** Uses by hour, day or month, stacked; each can be hidden by its name, and the rest stacks again. */
export function UsesOverTime({
  uses,
  compared,
  borders,
  certain,
  nodes,
}: {
  uses: PeriodBalance['uses'];
  compared: ComparedUses | null;
  borders: number[];
  /** Part by part, whether everything metered had a value all the time. */
  certain: boolean[];
  nodes: readonly InstallationNode[];
}) {
  const [search, setSearch] = useSearchParams();
  const { zone, into, words } = usePeriod();
  const { sheet, series, flows } = useSheet();
  const asked = search.get('by');
  const by = GROUPINGS.find((g) => g === asked) ?? 'purpose';
  const hidden = useMemo(() => new Set((search.get('hide') ?? '').split(',').filter(Boolean)), [search]);
  const groups = useMemo(() => groupsOf(uses, nodes, by), [uses, nodes, by]);
  const shown = groups.filter((g) => !hidden.has(g.key));
  const colourOf = (key: string, index: number): string =>
    by === 'purpose'
      ? (flows.purposes[key as Purpose] ?? flows.purposes.none)
      : by === 'phase'
        ? ({ L1: sheet.l1, L2: sheet.l2, L3: sheet.l3 }[key] ?? flows.use)
        : (series[index % series.length] as string);
  const layers: UseLayer[] = groups.flatMap((g, i) =>
    hidden.has(g.key)
      ? []
      : [{ name: g.name, colour: colourOf(g.key, i), hatched: isUnmetered(g), values: columnOf(g.uses) }],
  );
  const besideSums = useMemo(() => {
    if (!compared) return null;
    return columnOf(
      groupsOf(compared.uses, nodes, by)
        .filter((g) => !hidden.has(g.key))
        .flatMap((g) => g.uses),
    );
  }, [compared, nodes, by, hidden]);
  const option = usesOption(
    borders,
    layers,
    certain,
    compared && besideSums && { name: compared.words, sums: besideSums },
    zone,
    sheet,
  );
  const set = (key: string, value: string | null) =>
    setSearch(
      (before) => {
        if (value === null || value === '') before.delete(key);
        else before.set(key, value);
        return before;
      },
      { replace: true },
    );
  const toggle = (key: string) => {
    const next = new Set(hidden);
    if (!next.delete(key)) next.add(key);
    set('hide', [...next].join(','));
  };
  const format = partFormat(borders);
  const step = (borders[1] ?? 0) - (borders[0] ?? 0);
  return (
    <section aria-label="Uses over time" className={styles.uses}>
      <div className={styles.head}>
        <h2>Uses over time</h2>
        <Measured value={totalOf(shown.flatMap((g) => g.uses))} unit="Wh" />
        {compared && (
          <span className="muted">
            beside {compared.words} <Measured value={besideTotal(besideSums)} unit="Wh" />
          </span>
        )}
        <span className={styles.space} />
        <span role="group" aria-label="Group by" className={styles.by}>
          <span className="muted">by</span>
          {GROUPINGS.map((g) => (
            <button
              key={g}
              type="button"
              aria-pressed={g === by}
              onClick={() => set('by', g === 'purpose' ? null : g)}
            >
              {GROUPING_WORDS[g]}
            </button>
          ))}
        </span>
      </div>
      <div className={styles.columns}>
        <Suspense fallback={<div style={{ height: 230 }} />}>
          <Chart
            option={option}
            height={230}
            label={`Uses over time, ${words}: the table below has the figures`}
            onPart={(i) => step > 0 && into({ start: borders[i] as number, end: borders[i + 1] as number })}
          />
        </Suspense>
        <ul className={styles.legend}>
          {[...groups].reverse().map((g) => {
            const index = groups.indexOf(g);
            return (
              <li key={g.key}>
                <button
                  type="button"
                  aria-pressed={!hidden.has(g.key)}
                  onClick={() => toggle(g.key)}
                  title={hidden.has(g.key) ? `Show ${g.name}` : `Hide ${g.name}`}
                >
                  <span
                    className={styles.sign}
                    style={{ background: isUnmetered(g) ? undefined : colourOf(g.key, index) }}
                    data-hatched={isUnmetered(g)}
                    aria-hidden
                  />
                  {by === 'purpose' && !isUnmetered(g) && (
                    <PurposeMark purpose={g.key as Purpose} size={13} />
                  )}
                  <span className={styles.name}>{g.name}</span>
                  <Measured value={totalOf(g.uses)} unit="Wh" />
                </button>
              </li>
            );
          })}
        </ul>
      </div>
      {certain.includes(false) && (
        <p className="muted">
          Where the background is darker, some readings are missing: what those circuits took then is counted
          as not metered.
        </p>
      )}
      <Figures
        caption={`Uses over time, ${words}, kWh`}
        head={['Part', ...layers.map((l) => `${l.name}#`)]}
        rows={borders.slice(0, -1).map((t, i) => [
          siteClock(zone, t, format),
          ...layers.map((l) => {
            const v = l.values[i];
            return v == null ? '–' : (v / 1000).toFixed(3);
          }),
        ])}
      />
    </section>
  );
}

const besideTotal = (sums: readonly (number | null)[] | null): number =>
  (sums ?? []).reduce<number>((sum, v) => sum + (v ?? 0), 0);
