import type { InstallationNode } from '@loka/contract/installation';
import type { Point } from '@loka/contract/points';
import { compare, type Comparison } from '@loka/core/calibration';
import { quantityInfo } from '@loka/core/quantities';
import { isReadable } from '@loka/core/points';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useMemo } from 'react';
import { useSearchParams } from 'react-router';
import { useSeries } from '../api/useApi.js';
import Chart from '../charts/Chart.js';
import { tooltipBox } from '../charts/tooltip.js';
import { trendOption } from '../charts/trend.js';
import { Measured } from '../shared/Measured.js';
import { unitOf } from '../shared/nodes.js';
import { usePeriod } from '../shared/period.js';
import { PlainTable } from '../shared/PlainTable.js';
import { EmptyState, FailedState } from '../shared/states.js';
import { useSheet } from '../theme/useSheet.js';
import { deviationOption } from './deviationOption.js';
import styles from './ComparePage.module.css';
import { usePointTitle } from '../shared/usePointTitle.js';

const MINUTE = 60_000;
/** About so many blocks a period. */
const BLOCKS = 300;
const MOST = 6;

/** Points of one quantity side by side over the period: difference, ratio, scatter, drift against the first. */
export default function ComparePage({ node, points }: { node: InstallationNode; points: Point[] }) {
  const titleOf = usePointTitle();
  const [search, setSearch] = useSearchParams();
  const { span, zone, words } = usePeriod();
  const { sheet, series: colours } = useSheet();
  const measured = points.filter(
    (p) => isReadable(p.definition) && quantityInfo(p.definition.quantity).kind === 'instant',
  );
  const own = measured.filter((p) => p.nodeId === node.id);
  const base =
    measured.find((p) => p.id === Number(search.get('point'))) ??
    own.find((p) => p.definition.quantity === 'active-power') ??
    own[0];
  const others = measured.filter(
    (p) => p.id !== base?.id && p.definition.quantity === base?.definition.quantity,
  );
  const chosen = (search.get('with') ?? '')
    .split(',')
    .map(Number)
    .filter((id) => others.some((p) => p.id === id));
  const ids = base ? [base.id, ...chosen] : [];
  const block = Math.max(1, Math.ceil((span.end - span.start) / MINUTE / BLOCKS));
  const { data: series = [], error } = useSeries(ids, span.start, span.end, { block });
  const shown = ids.flatMap((id) => measured.find((p) => p.id === id) ?? []);
  const baseSeries = series.find((s) => s.pointId === base?.id);
  const compared = useMemo(
    () =>
      new Map(
        series
          .filter((s) => s.pointId !== baseSeries?.pointId)
          .map((s) => [s.pointId, compare(s.t, baseSeries?.mean ?? [], s.mean)]),
      ),
    [series, baseSeries],
  );
  const trended = shown.map((p) => ({ id: p.id, name: titleOf(p), unit: unitOf(p) }));
  if (!base)
    return (
      <EmptyState title={`Nothing to compare on ${node.name}`}>
        Assign a measured point to it in Field first.
      </EmptyState>
    );
  const put = (key: string, value: string) =>
    setSearch((s) => {
      s.set(key, value);
      return s;
    });
  const unit = unitOf(base);
  return (
    <div>
      <div className={styles.fields}>
        <TextField
          select
          label="Compared with"
          value={base.id}
          onChange={(e) => {
            setSearch((s) => {
              s.set('point', e.target.value);
              s.delete('with');
              return s;
            });
          }}
        >
          {(own.some((p) => p.id === base.id) ? own : [base, ...own]).map((p) => (
            <MenuItem key={p.id} value={p.id}>
              {titleOf(p)}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          label="Others beside it"
          value={chosen}
          slotProps={{
            select: {
              multiple: true,
              renderValue: (v) => `${(v as number[]).length} chosen`,
              displayEmpty: true,
            },
            inputLabel: { shrink: true },
          }}
          onChange={(e) => put('with', (e.target.value as unknown as number[]).slice(0, MOST).join(','))}
        >
          {others.map((p) => (
            <MenuItem key={p.id} value={p.id}>
              {titleOf(p)}
            </MenuItem>
          ))}
        </TextField>
      </div>
      {error && series.length === 0 ? (
        <FailedState error={error} />
      ) : chosen.length === 0 ? (
        <p className="muted">Choose what to compare it with, ideally a meter on the same conductor.</p>
      ) : (
        <>
          <PlainTable head={['', 'Mean#', 'Difference#', 'Scatter#', 'Ratio#', 'Drift a day#', 'Blocks#']}>
            <tr>
              <td>
                <Swatch colour={colours[0]} /> {titleOf(base)}
              </td>
              <td className="number">
                <Measured value={meanOf(baseSeries?.mean)} unit={unit} />
              </td>
              <td colSpan={5} className="muted">
                what the others are compared with
              </td>
            </tr>
            {shown.slice(1).map((p, i) => (
              <Row
                key={p.id}
                title={titleOf(p)}
                colour={colours[(i + 1) % colours.length]}
                unit={unit}
                comparison={compared.get(p.id) ?? null}
              />
            ))}
          </PlainTable>
          <p className="muted">
            Means of {block === 1 ? 'a minute' : `${block} minutes`} each, {words.toLowerCase()}. Drift is how
            fast the ratio changes, with its uncertainty (95 %).
          </p>
          <Chart
            option={trendOption(series, trended, span, zone, sheet, colours, tooltipBox)}
            height={230}
            label={`${trended.map((t) => t.name).join('; ')}: ${words}`}
          />
          <p className="muted">By how much the others are off the first, percent of it:</p>
          <Chart
            option={deviationOption(series, baseSeries, trended.slice(1), span, zone, sheet, colours)}
            height={170}
            label="Deviation from the first, percent of it"
          />
        </>
      )}
    </div>
  );
}

function Row({
  title,
  colour,
  unit,
  comparison,
}: {
  title: string;
  colour: string | undefined;
  unit: string;
  comparison: Comparison | null;
}) {
  if (!comparison)
    return (
      <tr>
        <td>
          <Swatch colour={colour} /> {title}
        </td>
        <td colSpan={6} className="muted">
          never read at the same time in this period
        </td>
      </tr>
    );
  const { mean, difference, scatter, ratio, drift, blocks } = comparison;
  const drifts = drift !== null && Math.abs(drift.perDay) > drift.uncertainty;
  return (
    <tr>
      <td>
        <Swatch colour={colour} /> {title}
      </td>
      <td className="number">
        <Measured value={mean} unit={unit} />
      </td>
      <td className="number">
        <Measured value={difference} unit={unit} />
      </td>
      <td className="number">
        <Measured value={scatter} unit={unit} />
      </td>
      <td className="number measured">{ratio === null ? '–' : ratio.toFixed(4)}</td>
      <td className={`number measured ${drifts ? 'warn' : ''}`}>
        {drift === null ? '–' : `${percent(drift.perDay)} ± ${(100 * drift.uncertainty).toFixed(3)} %`}
      </td>
      <td className="number measured">{blocks}</td>
    </tr>
  );
}

const Swatch = ({ colour }: { colour: string | undefined }) => (
  <span className={styles.swatch} style={{ background: colour }} aria-hidden />
);

function percent(ratio: number): string {
  const text = Math.abs(100 * ratio).toFixed(3);
  return `${Number(text) === 0 ? '' : ratio > 0 ? '+' : '−'}${text}`;
}

function meanOf(values: readonly (number | null)[] = []): number | null {
  const known = values.filter((v) => v !== null);
  return known.length === 0 ? null : known.reduce((a, b) => a + b, 0) / known.length;
}
