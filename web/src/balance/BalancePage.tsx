import type { PeriodBalance } from '@loka/contract/balance';
import type { InstallationNode } from '@loka/contract/installation';
import { siteClock, type TimeSpan } from '@loka/core/time';
import { useLayoutEffect, useRef, useState, type ReactNode } from 'react';
import { Link, useSearchParams } from 'react-router';
import { useNow } from '../api/clock.js';
import { useBalance, useInstallation, useSite } from '../api/useApi.js';
import { below, pathUp, useSelection } from '../shared/nodes.js';
import { usePeriod } from '../shared/period.js';
import { EmptyState, FailedState, LoadingState } from '../shared/states.js';
import styles from './BalancePage.module.css';
import { besideOf } from './beside.js';
import { ChangeOver } from './ChangeOver.js';
import { change, figure, formFor, unitText } from './figures.js';
import { FlowDrawing } from './FlowDrawing.js';
import { FlowPhone } from './FlowPhone.js';
import { InstantBar } from './InstantBar.js';
import { Ranking } from './Ranking.js';
import { SelfUseLine } from './SelfUseLine.js';
import { stepOf } from './stepOf.js';
import { useFlows, type FlowMode } from './useFlows.js';
import { UsesOverTime } from './UsesOverTime.js';

/** Narrower than this the drawing runs from top to bottom. */
const NARROW = 720;

const ENERGY: FlowMode = { kind: 'energy' };

/** Where it all goes: now, at an instant, and over the period. */
export default function BalancePage() {
  const { data: nodes, error, mutate } = useInstallation();
  if (error && !nodes) return <FailedState error={error} retry={() => void mutate()} />;
  if (!nodes) return <LoadingState />;
  const supply = nodes.find((n) => n.kind === 'supply');
  if (!supply)
    return (
      <EmptyState title="No supply yet">The balance begins at the supply. Add it on the Board.</EmptyState>
    );
  return <Balance nodes={nodes} supply={supply} />;
}

/** The busbar that is looked at: that of the board chosen, or of the nearest one above what is chosen. */
function rootOf(
  nodes: readonly InstallationNode[],
  at: number | null,
  supply: InstallationNode,
): InstallationNode {
  const board = pathUp(nodes, at).find((n) => n.kind === 'board' || n.kind === 'supply') ?? supply;
  const alone = nodes.filter((n) => n.parentId === board.parentId).length === 1;
  return board.parentId === supply.id && alone ? supply : board;
}

function Balance({ nodes, supply }: { nodes: InstallationNode[]; supply: InstallationNode }) {
  const { span, zone, words, beside, name } = usePeriod();
  const site = useSite().data?.site ?? null;
  const [search, setSearch] = useSearchParams();
  const [at, select] = useSelection();
  const now = useNow(60_000);
  const root = rootOf(nodes, at, supply);
  const step = stepOf(span);
  const { data: period, error, mutate } = useBalance(span.start, span.end, step);
  const compared = useBalance(beside?.span.start ?? 0, beside?.until ?? 0, step).data;
  const mode = modeOf(search);
  const flows = useFlows(nodes, root.id, mode, period);
  const then = useFlows(nodes, root.id, ENERGY, compared).picture;
  const besideFlows = mode.kind === 'energy' && beside && then ? besideOf(beside.words, then) : null;
  const [box, width] = useWidth();
  const set = (changes: Record<string, string | null>) =>
    setSearch(
      (before) => {
        for (const [key, value] of Object.entries(changes))
          if (value === null) before.delete(key);
          else before.set(key, value);
        return before;
      },
      { replace: true },
    );
  const inside = new Set(below(nodes, root.id).map((n) => n.id));
  const scoped = (balance: PeriodBalance | undefined): PeriodBalance['uses'] =>
    (balance?.uses ?? []).filter((u) => inside.has(u.nodeId));
  const open = (id: number) => select(id === at ? null : id);
  const { picture } = flows;
  const form = picture && formFor(picture.total, flows.unit, null);
  return (
    <section className={styles.page} aria-label="Balance">
      <div className={styles.head}>
        <h1>{root.kind === 'supply' ? 'Balance' : `Balance of ${root.name}`}</h1>
        <span className="muted">
          {mode.kind === 'now'
            ? 'now'
            : mode.kind === 'instant'
              ? flows.minute
                ? `mean of ${siteClock(zone, flows.minute.from, 'ccc d LLL HH:mm')}–${siteClock(zone, flows.minute.to, 'HH:mm')}`
                : '…'
              : `${words.toLowerCase().startsWith('last') || words.startsWith('T') ? words.toLowerCase() : words}${span.end > now ? `, up to ${siteClock(zone, now, 'HH:mm')}` : ''}`}
        </span>
        <span className={styles.space} />
        <Link to={`/report?at=${root.id}&period=${encodeURIComponent(name)}`}>Report</Link>
        <ChangeOver
          value={mode.kind === 'energy' ? 'energy' : 'now'}
          onChange={(view) => set({ view: view === 'energy' ? null : 'now', instant: null })}
        />
      </div>
      {period && root.kind === 'supply' && (
        <SelfUseLine balance={period} compared={beside && compared ? compared : null} nodes={nodes} />
      )}
      <PeriodNotes period={period} span={span} zone={zone} now={now} energy={mode.kind === 'energy'} />
      {picture && form && (
        <p className={styles.sides}>
          <span>
            Sources{' '}
            <Figure>
              {figure(picture.total, form)}
              <span className="unit">{unitText(form)}</span>
            </Figure>
          </span>
          <span aria-hidden>=</span>
          <span>
            Ways, loads and what went back{' '}
            <Figure>
              {figure(picture.total, form)}
              <span className="unit">{unitText(form)}</span>
            </Figure>
          </span>
          {besideFlows && (
            <span className={styles.than}>
              {change(picture.total, besideFlows.total)} against {besideFlows.words}
            </span>
          )}
        </p>
      )}
      <div ref={box} className={styles.drawing}>
        {error && !period ? (
          <FailedState error={error} retry={() => void mutate()} />
        ) : flows.loading ? (
          <LoadingState />
        ) : picture === null || width === 0 ? (
          <p className="muted">
            {mode.kind === 'now'
              ? 'Nothing metered here has a reading now.'
              : 'Nothing was metered here then.'}
          </p>
        ) : width < NARROW ? (
          <FlowPhone
            picture={picture}
            beside={besideFlows}
            nodes={nodes}
            unit={flows.unit}
            width={width}
            onOpen={open}
          />
        ) : (
          <FlowDrawing
            picture={picture}
            beside={besideFlows}
            nodes={nodes}
            unit={flows.unit}
            width={width}
            subject={`${root.id} ${mode.kind} ${mode.kind === 'energy' ? name : ''}`}
            onOpen={open}
          />
        )}
      </div>
      {mode.kind !== 'energy' && (
        <InstantBar
          supply={root.powerPointIds.length > 0 ? root : supply}
          instant={mode.kind === 'instant' ? mode.t : null}
          onChange={(t) => set({ view: 'now', instant: t === null ? null : String(t) })}
        />
      )}
      {period && period.borders.length > 1 && (
        <div className={styles.lower}>
          <UsesOverTime
            uses={scoped(period)}
            compared={beside && compared ? { words: beside.words, uses: scoped(compared) } : null}
            borders={period.borders}
            certain={period.certain}
            nodes={nodes}
          />
          <Ranking
            uses={scoped(period)}
            compared={beside && compared ? { words: beside.words, uses: scoped(compared) } : null}
            nodes={nodes}
            site={site}
          />
        </div>
      )}
    </section>
  );
}

const Figure = ({ children }: { children: ReactNode }) => <span className="measured">{children}</span>;

function modeOf(search: URLSearchParams): FlowMode {
  const instant = Number(search.get('instant'));
  if (search.get('view') !== 'now') return { kind: 'energy' };
  return instant > 0 ? { kind: 'instant', t: instant } : { kind: 'now' };
}

/** What of the period cannot be told, in words. */
function PeriodNotes({
  period,
  span,
  zone,
  now,
  energy,
}: {
  period: PeriodBalance | undefined;
  span: TimeSpan;
  zone: string;
  now: number;
  energy: boolean;
}) {
  if (!period || !energy) return null;
  const at = (t: number) => siteClock(zone, t, 'd LLL yyyy HH:mm');
  const note =
    period.firstAt === null
      ? 'Nothing that belongs to a place has been read yet.'
      : span.start > now
        ? 'This period has not begun yet.'
        : span.end <= period.firstAt
          ? `This period lies before the first reading, of ${at(period.firstAt)}.`
          : span.start < period.firstAt - 3_600_000
            ? `Readings begin on ${at(period.firstAt)}; what was before is not in it.`
            : null;
  return note && <p className="warn">{note}</p>;
}

/** The width of an element, px; 0 before it is known. */
function useWidth(): [React.RefObject<HTMLDivElement | null>, number] {
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(0);
  useLayoutEffect(() => {
    const element = box.current;
    if (!element) return;
    setWidth(element.clientWidth);
    const watcher = new ResizeObserver(() => setWidth(element.clientWidth));
    watcher.observe(element);
    return () => watcher.disconnect();
  }, []);
  return [box, width];
}
