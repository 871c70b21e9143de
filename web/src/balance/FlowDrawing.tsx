import type { InstallationNode } from '@loka/contract/installation';
import type { Picture, Strip } from '@loka/core/balance';
import { useMemo, useRef, type ReactNode } from 'react';
import { light, useLit } from '../shared/lit.js';
import { useSheet } from '../theme/useSheet.js';
import type { BesideFlows } from './beside.js';
import { change, figure, formFor, share, unitText, type FigureForm } from './figures.js';
import { flowLayout, REFERENCE, scaleFor, type FlowBar, type FlowRow } from './flowLayout.js';
import { NotMeteredPattern } from './NotMeteredPattern.js';
import styles from './FlowDrawing.module.css';
import { FlowTable } from './FlowTable.js';
import { stripLook, stripName, stripNote } from './stripWords.js';

/** Room for the bands of the whole, px. */
const ROOM = 150;
const TEXT = 152;
const BUS = { left: 288, width: 16 };
const SUB = 5;
const TABLE = 404;
/** Its column that a period beside adds. */
const CHANGE = 62;
const TIP = 6;

/** Widest that a band may have been drawn with: rows keep the room that they once needed, so that nothing jumps. */
function useSteadyWidths(of: string, scale: number): (strip: Strip) => number {
  const kept = useRef<{ of: string; widths: Map<string, number> }>({ of: '', widths: new Map() });
  const key = `${of} ${scale}`;
  if (kept.current.of !== key) kept.current = { of: key, widths: new Map() };
  const { widths } = kept.current;
  return (strip) => {
    const wide = Math.max(widths.get(strip.key) ?? 0, (strip.value / scale) * REFERENCE);
    widths.set(strip.key, wide);
    return wide;
  };
}

/**
 * Sources and uses as a single-line drawing whose lines are as wide as what flows, with the schedule of the uses beside it.
 * @param subject changes with what is shown, so that the scale is chosen again
 */
export function FlowDrawing({
  picture,
  beside,
  nodes,
  unit,
  width,
  subject,
  onOpen,
}: {
  picture: Picture;
  beside: BesideFlows | null;
  nodes: readonly InstallationNode[];
  unit: 'W' | 'Wh';
  width: number;
  subject: string;
  onOpen: (nodeId: number) => void;
}) {
  const { sheet, flows } = useSheet();
  const lit = useLit();
  const steady = useRef<{ subject: string; scale: number | null; form: FigureForm | null }>({
    subject: '',
    scale: null,
    form: null,
  });
  if (steady.current.subject !== subject) steady.current = { subject, scale: null, form: null };
  const scale = (steady.current.scale = scaleFor(picture.total, ROOM, steady.current.scale));
  const form = (steady.current.form = formFor(picture.total, unit, steady.current.form));
  const steadyWidth = useSteadyWidths(subject, scale);
  const layout = flowLayout(picture, steadyWidth);
  const byId = useMemo(() => new Map(nodes.map((n) => [n.id, n])), [nodes]);
  const wide = (strip: Strip) => (strip.value / scale) * REFERENCE;
  const right = width - TABLE - (beside ? CHANGE : 0) - 14;
  const deepest = Math.max(0, ...layout.bars.map((b) => b.depth));
  const step = deepest === 0 ? 0 : Math.min(150, (right - BUS.left - BUS.width - 60) / (deepest + 1));
  const barLeft = (depth: number) => (depth === 0 ? BUS.left : BUS.left + BUS.width + depth * step);
  const barRight = (depth: number) => barLeft(depth) + (depth === 0 ? BUS.width : SUB);

  const band = (strip: Strip, path: string, cross: [number, number] | null, children?: ReactNode) => {
    const node = byId.get(strip.nodeId);
    const look = stripLook(strip, node, flows, sheet);
    const name = stripName(strip, node);
    return (
      <g
        key={strip.key}
        onPointerEnter={() => light(strip.nodeId)}
        onPointerLeave={() => light(null)}
        onClick={() => onOpen(strip.nodeId)}
        className={styles.band}
      >
        <title>
          {`${name}: ${figure(strip.value, form)} ${unitText(form)}, ${share(strip.value, picture.total)} of all${
            strip.u > 0 ? `, ± ${figure(strip.u, form)}` : ''
          }${stripNote(strip) ? `; ${stripNote(strip)}` : ''}`}
        </title>
        <path
          d={path}
          fill={look.fill}
          stroke={lit === strip.nodeId ? sheet.accent : look.stroke}
          strokeWidth={lit === strip.nodeId ? 2 : 1}
          strokeDasharray={look.dashed ? '7 4' : undefined}
        />
        {cross && (
          <path
            d={`M${cross[0] - 4} ${cross[1] - 4}l8 8m0-8l-8 8`}
            stroke={sheet.ink}
            strokeWidth="1.3"
            fill="none"
          />
        )}
        {children}
      </g>
    );
  };

  const breaker = (strip: Strip, x: number, y: number): [number, number] | null => {
    const node = byId.get(strip.nodeId);
    return (strip.kind === 'takes' || strip.kind === 'gives') &&
      (node?.kind === 'circuit' || node?.kind === 'board')
      ? [x + 13, y]
      : null;
  };

  const rowBand = ({ strip, depth, top, height }: FlowRow) => {
    const half = Math.max(0.5, wide(strip) / 2);
    const y = top + height / 2;
    const x = barRight(depth);
    const cross = breaker(strip, x, y);
    // What gives into a bar further down flows the other way.
    if (strip.kind === 'gives' || strip.kind === 'excess')
      return band(strip, `M${x + TIP} ${y - half}H${right}V${y + half}H${x + TIP}L${x} ${y}Z`, cross);
    return band(
      strip,
      `M${x} ${y - half}H${right - TIP}L${right} ${y}L${right - TIP} ${y + half}H${x}Z`,
      cross,
    );
  };

  const barBand = ({ strip, depth, top, height }: FlowBar) => {
    if (!strip) return null;
    const half = Math.max(0.5, wide(strip) / 2);
    const y = top + height / 2;
    const [x, end] = [barRight(depth - 1), barLeft(depth)];
    return band(strip, `M${x} ${y - half}H${end}V${y + half}H${x}Z`, breaker(strip, x, y));
  };

  return (
    <div className={styles.flow} style={{ height: layout.height + HEAD }}>
      <svg
        width={right + 2}
        height={layout.height + HEAD}
        role="img"
        aria-label={`Sources and uses, ${figure(picture.total, form)} ${unitText(form)} in all; the table beside it has the figures`}
      >
        <NotMeteredPattern sheet={sheet} />
        <g transform={`translate(0 ${HEAD})`}>
          {layout.sources.map(({ strip, top, height }) => {
            const half = Math.max(0.5, wide(strip) / 2);
            const y = top + height / 2;
            const notch = Math.min(TIP, half);
            const left = TEXT + 8;
            return band(
              strip,
              `M${left} ${y - half}H${BUS.left}V${y + half}H${left}L${left + notch} ${y}Z`,
              null,
              <>
                <text x="0" y={y - 12} className={styles.name}>
                  {clipped(stripName(strip, byId.get(strip.nodeId)), 23)}
                </text>
                <text x="0" y={y + 6} className={styles.value}>
                  {figure(strip.value, form)}
                  <tspan className={styles.unit}> {unitText(form)}</tspan>
                </text>
                <text x="0" y={y + 22} className={styles.small}>
                  {share(strip.value, picture.total)}
                  {beside && `, ${change(strip.value, beside.of(strip))}`}
                  {strip.contradicts ? ': meters contradict' : ''}
                </text>
              </>,
            );
          })}
          {layout.bars.map(barBand)}
          {layout.rows.map(rowBand)}
          {layout.bars.map(({ strip, picture: of, depth, top, height }) => (
            <g key={`bar ${of.nodeId}`}>
              <rect
                x={barLeft(depth)}
                y={top}
                width={depth === 0 ? BUS.width : SUB}
                height={height}
                fill={lit !== null && of.places.includes(lit) ? sheet.accent : sheet.ink}
                stroke={of.derived ? sheet.paper : 'none'}
                strokeDasharray={of.derived ? '2 3' : undefined}
              />
              {depth === 0 ? (
                <text
                  className={styles.total}
                  transform={`translate(${barLeft(0) + BUS.width / 2 + 4} ${top + height / 2}) rotate(-90)`}
                >
                  {figure(picture.total, form)} {unitText(form)}
                </text>
              ) : (
                strip && <Mark node={byId.get(strip.nodeId)} x={barLeft(depth)} y={top} />
              )}
            </g>
          ))}
        </g>
      </svg>
      <FlowTable
        layout={layout}
        beside={beside}
        nodes={byId}
        form={form}
        total={picture.total}
        head={HEAD}
        onOpen={onOpen}
      />
      <p className={styles.scale}>
        <svg width="9" height={REFERENCE + 2} aria-hidden>
          <path
            d={`M1 1h7M1 ${REFERENCE + 1}h7M4.5 1v${REFERENCE}`}
            stroke={sheet.ink}
            strokeWidth="1.2"
            fill="none"
          />
        </svg>{' '}
        as wide as {scale >= 1000 ? scale / 1000 : scale} {unitText({ ...form, kilo: scale >= 1000 })}
      </p>
    </div>
  );
}

/** Height of the head of the schedule, px. */
const HEAD = 22;

/** The mark of a board, or the number of a way, in its frame over the bar. */
function Mark({ node, x, y }: { node: InstallationNode | undefined; x: number; y: number }) {
  if (!node?.way) return null;
  const wide = 8 + 8 * node.way.length;
  return (
    <g>
      <rect
        x={x - wide / 2 + 2}
        y={y - 19}
        width={wide}
        height={15}
        fill="var(--sheet)"
        stroke="var(--ink)"
      />
      <text x={x + 2} y={y - 7.5} className={styles.mark}>
        {node.way}
      </text>
    </g>
  );
}

/** A name cut to what there is room for. */
const clipped = (text: string, letters: number): string =>
  text.length <= letters ? text : `${text.slice(0, Math.max(1, letters - 1))}…`;
