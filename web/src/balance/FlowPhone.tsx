import type { InstallationNode } from '@loka/contract/installation';
import type { Picture, Strip } from '@loka/core/balance';
import { PurposeMark } from '../shared/PurposeMark.js';
import { useSheet } from '../theme/useSheet.js';
import type { BesideFlows } from './beside.js';
import { change, figure, formFor, share, unitText } from './figures.js';
import { NotMeteredPattern } from './NotMeteredPattern.js';
import styles from './FlowPhone.module.css';
import { stripLook, stripName, stripNote } from './stripWords.js';

const SOURCES = 120;
const BUS = 14;
const USES = 150;

/** The same from top to bottom, one busbar at a time: what flows in above it, what flows out below; a tap goes on. */
export function FlowPhone({
  picture,
  beside,
  nodes,
  unit,
  width,
  onOpen,
}: {
  picture: Picture;
  beside: BesideFlows | null;
  nodes: readonly InstallationNode[];
  unit: 'W' | 'Wh';
  width: number;
  onOpen: (nodeId: number) => void;
}) {
  const { sheet, flows } = useSheet();
  const form = formFor(picture.total, unit, null);
  const nodeOf = (strip: Strip) => nodes.find((n) => n.id === strip.nodeId);
  const uses = picture.out.filter((s) => s.kind !== 'back' || s.value > 0);
  const pitch = width / Math.max(1, uses.length);
  // The widest band on either side must find room in its column.
  const widest = (list: readonly Strip[], column: number) =>
    Math.min(...list.map((s) => (s.value > 0 ? (column - 4) / s.value : Infinity)), Infinity);
  const sourcePitch = width / Math.max(1, picture.into.length);
  const scale = Math.min(
    widest(uses, pitch),
    widest(picture.into, sourcePitch),
    width / Math.max(picture.total, 1),
  );
  const half = (s: Strip) => Math.max(0.5, (s.value * scale) / 2);
  const look = (s: Strip) => stripLook(s, nodeOf(s), flows, sheet);
  const path = (s: Strip, d: string) => {
    const { fill, stroke, dashed } = look(s);
    return (
      <path
        key={s.key}
        d={d}
        fill={fill}
        stroke={stroke}
        strokeDasharray={dashed ? '7 4' : undefined}
        onClick={() => onOpen(s.nodeId)}
      />
    );
  };
  const bus = SOURCES;
  return (
    <div>
      <ul
        className={styles.sources}
        aria-label="Sources"
        style={{ gridTemplateColumns: `repeat(${picture.into.length}, 1fr)` }}
      >
        {picture.into.map((s) => (
          <li key={s.key}>
            <b>{stripName(s, nodeOf(s))}</b>
            <span className="measured">
              {figure(s.value, form)}
              <span className="unit">{unitText(form)}</span>
            </span>
            <span className="muted">
              {share(s.value, picture.total)}
              {beside && `, ${change(s.value, beside.of(s))}`}
            </span>
            {s.contradicts && <span className="danger">meters contradict</span>}
          </li>
        ))}
      </ul>
      <svg
        width={width}
        height={SOURCES - 70 + BUS + USES}
        viewBox={`0 70 ${width} ${SOURCES - 70 + BUS + USES}`}
        role="img"
        aria-label="Sources above, uses below; the list has the figures"
      >
        <NotMeteredPattern sheet={sheet} />
        {picture.into.map((s, i) => {
          const x = sourcePitch * (i + 0.5);
          return path(
            s,
            `M${x - half(s)} 72L${x} ${72 + Math.min(8, half(s))}L${x + half(s)} 72V${bus}H${x - half(s)}Z`,
          );
        })}
        {uses.map((s, i) => {
          const x = pitch * (i + 0.5);
          const end = bus + BUS + USES - 26;
          return (
            <g key={s.key}>
              {path(
                s,
                `M${x - half(s)} ${bus + BUS}H${x + half(s)}V${end - 6}L${x} ${end}L${x - half(s)} ${end - 6}Z`,
              )}
              <text x={x} y={end + 16} className={styles.mark} onClick={() => onOpen(s.nodeId)}>
                {s.kind === 'unmetered' ? '?' : s.kind === 'back' ? '↑' : nodeOf(s)?.way || '·'}
              </text>
            </g>
          );
        })}
        <rect x="0" y={bus} width={width} height={BUS} fill={sheet.ink} />
        <text x={width / 2} y={bus + BUS - 3} className={styles.total}>
          {figure(picture.total, form)} {unitText(form)}
        </text>
      </svg>
      <ul className={styles.uses} aria-label="Uses">
        {uses.map((s) => {
          const node = nodeOf(s);
          return (
            <li key={s.key}>
              <button type="button" onClick={() => onOpen(s.nodeId)}>
                <span className={styles.way}>
                  {s.kind === 'unmetered' ? '?' : s.kind === 'back' ? '↑' : node?.way || '·'}
                </span>
                {s.kind === 'takes' && node ? <PurposeMark purpose={node.purposeShown} /> : <span />}
                <span className={styles.name}>
                  {stripName(s, node)}
                  {stripNote(s) && <span className="warn"> {stripNote(s)}</span>}
                </span>
                <span className="measured">
                  {figure(s.value, form)}
                  <span className="unit">{unitText(form)}</span>
                </span>
                <span className="measured muted">
                  {beside ? change(s.value, beside.of(s)) : share(s.value, picture.total)}
                </span>
              </button>
            </li>
          );
        })}
      </ul>
    </div>
  );
}
