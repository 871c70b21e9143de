import type { InstallationNode } from '@loka/contract/installation';
import { useEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { useLocation, useNavigate } from 'react-router';
import { sumOfParts } from '@loka/core/energy';
import { useLargest, useSum, useSumOfEach } from '../api/live.js';
import { useInstallation } from '../api/useApi.js';
import { Measured } from '../shared/Measured.js';
import { childrenOf, isReversed, meteredParts, useSelection } from '../shared/nodes.js';
import type { Rails } from './rails.js';
import { WireSymbol } from './WireSymbol.js';
import { useKept } from './WorkAreas.js';
import { useIsLit } from '../shared/lit.js';
import { isTyping } from './isTyping.js';
import styles from './Spine.module.css';

/** The single-line drawing of the site, vertical: supply, busbar, boards, ways, loads. The navigator of every screen. */
export function Spine({ folded, onFold }: { folded: boolean; onFold: () => void }) {
  const { data: nodes = [] } = useInstallation();
  const [filter, setFilter] = useState('');
  const [at, select] = useSelection();
  const { pathname } = useLocation();
  const navigate = useNavigate();
  const kept = useKept();
  const box = useRef<HTMLInputElement>(null);
  const list = useRef<HTMLDivElement>(null);
  const rows = useMemo(
    () => flatten(nodes, null, []).filter(({ node }) => matches(nodes, node, filter)),
    [nodes, filter],
  );

  useEffect(() => {
    const focus = (event: globalThis.KeyboardEvent) => {
      if (event.key !== '/' || isTyping(event.target)) return;
      event.preventDefault();
      box.current?.focus();
    };
    window.addEventListener('keydown', focus);
    return () => window.removeEventListener('keydown', focus);
  }, []);

  const choose = (id: number) => {
    // Areas without a subject of their own go to the board of what was chosen.
    if (['/board', '/bench', '/control'].includes(pathname)) select(id);
    else
      void navigate(
        `/board?${new URLSearchParams({ ...Object.fromEntries(new URLSearchParams(kept)), at: String(id) }).toString()}`,
      );
  };
  const move = (event: KeyboardEvent) => {
    const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    if (step === 0) return;
    event.preventDefault();
    const buttons = [...(list.current?.querySelectorAll('button') ?? [])];
    const here = buttons.indexOf(document.activeElement as HTMLButtonElement);
    buttons[here + step]?.focus();
  };

  return (
    <aside className={styles.spine} aria-label="Installation" data-folded={folded} onKeyDown={move}>
      <div className={styles.filter}>
        {!folded && (
          <>
            <input
              ref={box}
              value={filter}
              onChange={(e) => setFilter(e.target.value)}
              placeholder="Find a way or load"
              aria-label="Find a way or load"
              onKeyDown={(e) => e.key === 'Escape' && setFilter('')}
            />
            <kbd aria-hidden>/</kbd>
          </>
        )}
        <button
          type="button"
          className={styles.fold}
          onClick={onFold}
          aria-label={folded ? 'Unfold the installation' : 'Fold the installation'}
        >
          {folded ? '»' : '«'}
        </button>
      </div>
      <div className={styles.rows} ref={list}>
        {rows.map(({ node, rails }) => (
          <SpineRow
            key={node.id}
            node={node}
            nodes={nodes}
            rails={rails}
            selected={node.id === at}
            onSelect={() => choose(node.id)}
          />
        ))}
        {rows.length === 0 && filter !== '' && <p className={styles.none}>Nothing is called “{filter}”.</p>}
      </div>
    </aside>
  );
}

function SpineRow({
  node,
  nodes,
  rails,
  selected,
  onSelect,
}: {
  node: InstallationNode;
  nodes: InstallationNode[];
  rails: Rails;
  selected: boolean;
  onSelect: () => void;
}) {
  const lit = useIsLit(node.id);
  const own = node.powerPointIds;
  const parts = useMemo(
    () => (own.length === 0 ? meteredParts(nodes, node.id) : []),
    [nodes, node.id, own.length],
  );
  const groups = useMemo(() => parts.map((part) => part.powerPointIds), [parts]);
  const measured = useSum(own);
  const each = useSumOfEach(groups);
  const sum = sumOfParts(each);
  const power = own.length > 0 ? measured : (sum?.value ?? null);
  const partial = sum !== null && sum.known < parts.length;
  const reversed = !partial && isReversed(nodes, node.id, power);
  return (
    <button
      type="button"
      className={styles.row}
      data-kind={node.kind}
      data-selected={selected}
      data-lit={lit}
      onClick={onSelect}
      aria-current={selected}
      title={
        parts.length === 0
          ? node.name
          : `${node.name}: sum of its metered ways${partial ? `, without ${withoutValue(parts, each)}` : ''}`
      }
    >
      <WireSymbol node={node} rails={rails} />
      <span className={styles.name}>
        {node.kind === 'circuit' && node.way && <span className={styles.way}>{node.way}</span>}
        {node.name}
        {node.kind === 'circuit' && <LoadMark node={node} />}
      </span>
      <span className={styles.power}>
        {partial && (
          <span className={styles.partial}>
            {sum.known} of {parts.length}
          </span>
        )}
        <Measured value={power} unit="W" className={reversed ? 'danger' : own.length === 0 ? 'muted' : ''} />
      </span>
    </button>
  );
}

/** "Deck oven, Hot-water cylinder" */
const withoutValue = (parts: readonly InstallationNode[], values: readonly (number | null)[]): string =>
  parts
    .filter((_, i) => values[i] === null)
    .map((part) => part.name)
    .join(', ');

/** A line as long as the load over the rated current. */
export function LoadMark({ node }: { node: InstallationNode }) {
  const amperes = useLargest(node.currentPointIds);
  const share = amperes === null || !node.ratedCurrent ? 0 : amperes / node.ratedCurrent;
  return (
    <span className={styles.load} aria-hidden>
      <span
        style={{ width: `${Math.min(1, Math.max(0, share)) * 100}%` }}
        data-level={share > 1 ? 'danger' : share > 0.8 ? 'warn' : 'ok'}
      />
    </span>
  );
}

function flatten(
  nodes: InstallationNode[],
  parent: number | null,
  above: Rails,
): { node: InstallationNode; rails: Rails }[] {
  const children = childrenOf(nodes, parent).sort((a, b) => order(a) - order(b) || a.position - b.position);
  return children.flatMap((node, i) => {
    const rails = [...above, i < children.length - 1];
    return [{ node, rails }, ...flatten(nodes, node.id, rails)];
  });
}

/** Ways stand before the boards that hang on the same busbar, as on the drawing. */
const order = (node: InstallationNode): number => (node.kind === 'board' ? 1 : 0);

function matches(nodes: InstallationNode[], node: InstallationNode, filter: string): boolean {
  const wanted = filter.trim().toLowerCase();
  if (wanted === '') return true;
  return (
    `${node.way} ${node.name}`.toLowerCase().includes(wanted) ||
    childrenOf(nodes, node.id).some((child) => matches(nodes, child, filter))
  );
}
