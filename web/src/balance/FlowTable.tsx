import type { InstallationNode } from '@loka/contract/installation';
import { Link } from 'react-router';
import { ConductorMarks } from '../shared/ConductorMarks.js';
import { light, useIsLit } from '../shared/lit.js';
import { PurposeMark } from '../shared/PurposeMark.js';
import type { BesideFlows } from './beside.js';
import { change, figure, unitText, type FigureForm } from './figures.js';
import type { FlowLayout, FlowRow } from './flowLayout.js';
import styles from './FlowDrawing.module.css';
import { stripName, stripNote } from './stripWords.js';

type Line = ({ kind: 'row' } & FlowRow) | ({ kind: 'heading' } & FlowLayout['headings'][number]);

/** The uses of the drawing as a schedule: each row stands beside its band. */
export function FlowTable({
  layout,
  beside,
  nodes,
  form,
  total,
  head,
  onOpen,
}: {
  layout: FlowLayout;
  beside: BesideFlows | null;
  nodes: ReadonlyMap<number, InstallationNode>;
  form: FigureForm;
  total: number;
  head: number;
  onOpen: (nodeId: number) => void;
}) {
  const lines: Line[] = [
    ...layout.rows.map((row) => ({ kind: 'row' as const, ...row })),
    ...layout.headings.map((heading) => ({ kind: 'heading' as const, ...heading })),
  ].sort((a, b) => a.top - b.top);
  return (
    <table className={styles.table} data-beside={beside !== null}>
      <thead>
        <tr style={{ height: head }}>
          <th aria-label="Use" />
          <th>Way</th>
          <th aria-label="Conductors" />
          <th>Feeds</th>
          <th className={styles.number}>{unitText(form)}</th>
          <th className={styles.number}>±</th>
          {beside && (
            <th className={styles.number} title={`against ${beside.words}`}>
              Change
            </th>
          )}
        </tr>
      </thead>
      <tbody>
        {lines.map((line) => (
          <FlowTableRow
            key={`${line.kind} ${line.strip.key}`}
            line={line}
            beside={beside}
            node={nodes.get(line.strip.nodeId)}
            form={form}
            total={total}
            onOpen={onOpen}
          />
        ))}
      </tbody>
    </table>
  );
}

function FlowTableRow({
  line,
  beside,
  node,
  form,
  onOpen,
}: {
  line: Line;
  beside: BesideFlows | null;
  node: InstallationNode | undefined;
  form: FigureForm;
  total: number;
  onOpen: (nodeId: number) => void;
}) {
  const { strip, kind, height, depth } = line;
  const lit = useIsLit(strip.nodeId);
  const note = stripNote(strip);
  const unmetered = strip.kind === 'unmetered';
  const own = strip.kind === 'takes' || strip.kind === 'gives';
  return (
    // By keyboard and finger a place is opened in the installation beside it; these rows are too low for that.
    <tr
      style={{ height }}
      onClick={() => own && onOpen(strip.nodeId)}
      data-lit={lit}
      data-heading={kind === 'heading'}
      onPointerEnter={() => light(strip.nodeId)}
      onPointerLeave={() => light(null)}
    >
      <td>{own && node && kind === 'row' ? <PurposeMark purpose={node.purposeShown} size={14} /> : null}</td>
      <td className="measured">
        {own && node && (kind === 'heading' || node.kind === 'circuit') ? node.way : ''}
      </td>
      <td>
        {own && node && kind === 'row' ? <ConductorMarks phases={node.phases} letters={false} /> : null}
      </td>
      <td style={{ paddingLeft: node?.kind === 'load' && depth > 0 ? 10 : 0 }}>
        {unmetered ? (
          <span className={styles.unmetered}>
            Not metered{' '}
            {node && node.kind !== 'load' && (
              <Link
                to={`/board?at=${node.id}`}
                title={`What ${node.name} takes and no meter below it covers`}
              >
                {node.kind === 'circuit' ? 'see the way' : 'fit a meter'}
              </Link>
            )}
          </span>
        ) : kind === 'heading' ? (
          <button type="button" className={styles.open} onClick={() => onOpen(strip.nodeId)}>
            {stripName(strip, node)}
          </button>
        ) : (
          stripName(strip, node)
        )}
        {note && <span className={strip.contradicts ? styles.wrong : styles.note}> {note}</span>}
      </td>
      <td className={styles.number}>{figure(strip.value, form)}</td>
      <td className={styles.plusMinus}>
        {unmetered || !strip.certain || strip.kind === 'excess' ? `± ${figure(strip.u, form)}` : ''}
      </td>
      {beside && <td className={styles.plusMinus}>{change(strip.value, beside.of(strip))}</td>}
    </tr>
  );
}
