import type { InstallationNode } from '@loka/contract/installation';
import { memo, useCallback, useEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { useLocation, useNavigate } from 'react-router';
import { sumOfParts } from '@loka/core/energy';
import { useLargest, useSum, useSumOfEach } from '../api/live.js';
import { useInstallation } from '../api/useApi.js';
import { draggedNode } from '../shared/draggedNode.js';
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
    if (['/board', '/bench', '/profiles', '/balance', '/control'].includes(pathname)) select(id);
    else
      void navigate(
        `/board?${new URLSearchParams({ ...Object.fromEntries(new URLSearchParams(kept)), at: String(id) }).toString()}`,
      );
  };
  // The rows are given one function for good, or all of them would be drawn again with each change of the URL.
  const latest = useRef(choose);
  useEffect(() => {
    latest.current = choose;
  });
  const onSelect = useCallback((id: number) => latest.current(id), []);
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
            onSelect={onSelect}
          />
        ))}
        {rows.length === 0 && filter !== '' && <p className={styles.none}>Nothing is called “{filter}”.</p>}
      </div>
    </aside>
  );
}

/** A place in the installation. What is live in it draws itself again, and not the row. */
const SpineRow = memo(function SpineRow({
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
  onSelect: (id: number) => void;
}) {
  const lit = useIsLit(node.id);
  return (
    <button
      type="button"
      className={styles.row}
      data-kind={node.kind}
      data-selected={selected}
      data-lit={lit}
      onClick={() => onSelect(node.id)}
      draggable
      onDragStart={(e) => draggedNode.write(e.dataTransfer, node.id)}
      aria-current={selected}
      title={node.name}
    >
      <WireSymbol node={node} rails={rails} />
      <span className={styles.name}>
        {node.kind === 'circuit' && node.way && <span className={styles.way}>{node.way}</span>}
        {node.name}
        {node.kind === 'circuit' && <LoadMark node={node} />}
      </span>
      <SpinePower node={node} nodes={nodes} />
    </button>
  );
});

/** What flows at a place, by its own meter or as the sum of what is metered on it. */
function SpinePower({ node, nodes }: { node: InstallationNode; nodes: InstallationNode[] }) {
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
    <span
      className={styles.power}
      title={
        parts.length === 0
          ? undefined
          : `${node.name}: sum of its metered ways${partial ? `, without ${withoutValue(parts, each)}` : ''}`
      }
    >
      {partial && (
        <span className={styles.partial}>
          {sum.known} of {parts.length}
        </span>
      )}
      <Measured value={power} unit="W" className={reversed ? 'danger' : own.length === 0 ? 'muted' : ''} />
    </span>
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
