import {
  COLUMNS,
  onSheet,
  placed,
  rowLetter,
  spotInWords,
  type DashboardContent,
  type DashboardElement,
  type Spot,
} from '@loka/core/dashboards';
import { useRef, useState, type DragEvent, type KeyboardEvent, type PointerEvent } from 'react';
import { ARROWS } from '../shared/arrows.js';
import { draggedNode } from '../shared/draggedNode.js';
import { Balloon } from './Balloon.js';
import { gridArea } from './DeskSheet.js';
import styles from './EditSheet.module.css';
import { ElementView } from './elements/ElementView.js';
import { useFacts } from './facts.js';
import { KIND_WORDS, titleOf } from './shown.js';

const ROW = 44;
const GAP = 4;
/** Empty rows below the last element, to put something on. */
const SPARE = 6;

/** Which edges of an element the pointer has: none moves it. */
type Edges = { left?: boolean; right?: boolean; top?: boolean; bottom?: boolean };
const HANDLES: [string, Edges][] = [
  ['nw', { left: true, top: true }],
  ['n', { top: true }],
  ['ne', { right: true, top: true }],
  ['e', { right: true }],
  ['se', { right: true, bottom: true }],
  ['s', { bottom: true }],
  ['sw', { left: true, bottom: true }],
  ['w', { left: true }],
];

interface Drag {
  id: string;
  edges: Edges | null;
  x: number;
  y: number;
  to: Spot;
}

/** The sheet of the desk while it is arranged: by pointer, by finger and by keyboard. */
export function EditSheet({
  content,
  selected,
  onSelect,
  onPlace,
  onRemove,
  onDuplicate,
  onDropNode,
  rows,
}: {
  content: DashboardContent;
  selected: string | null;
  onSelect: (id: string | null) => void;
  onPlace: (id: string, spot: Spot) => void;
  onRemove: (id: string) => void;
  onDuplicate: (id: string) => void;
  onDropNode: (nodeId: number, at: { x: number; y: number }) => void;
  rows: number;
}) {
  const facts = useFacts();
  const sheet = useRef<HTMLDivElement>(null);
  const [drag, setDrag] = useState<Drag | null>(null);
  const [over, setOver] = useState<{ x: number; y: number } | null>(null);
  const shown = drag ? placed(content, drag.id, drag.to) : content;
  const count = rows + SPARE;

  const columnWidth = () => ((sheet.current?.clientWidth ?? 0) + GAP) / COLUMNS;
  const cellAt = (event: { clientX: number; clientY: number }) => {
    const box = (sheet.current as HTMLDivElement).getBoundingClientRect();
    return {
      x: Math.min(COLUMNS - 1, Math.max(0, Math.floor((event.clientX - box.left) / columnWidth()))),
      y: Math.max(0, Math.floor((event.clientY - box.top) / (ROW + GAP))),
    };
  };
  const begin = (event: PointerEvent, element: DashboardElement, edges: Edges | null) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
    onSelect(element.id);
    setDrag({ id: element.id, edges, x: event.clientX, y: event.clientY, to: element.spot });
  };
  const go = (event: PointerEvent) => {
    if (!drag) return;
    const from = content.elements.find((e) => e.id === drag.id)?.spot;
    if (!from) return;
    const dx = Math.round((event.clientX - drag.x) / columnWidth());
    const dy = Math.round((event.clientY - drag.y) / (ROW + GAP));
    setDrag({
      ...drag,
      to: drag.edges
        ? resized(from, drag.edges, dx, dy)
        : onSheet({ ...from, x: from.x + dx, y: from.y + dy }),
    });
  };
  const end = () => {
    const from = content.elements.find((e) => e.id === drag?.id)?.spot;
    if (drag && from && JSON.stringify(from) !== JSON.stringify(drag.to)) onPlace(drag.id, drag.to);
    setDrag(null);
  };
  const key = (event: KeyboardEvent, { id, spot }: DashboardElement) => {
    const [dx, dy] = ARROWS[event.key] ?? [0, 0];
    if (dx !== 0 || dy !== 0) {
      event.preventDefault();
      onPlace(
        id,
        event.shiftKey
          ? { ...spot, w: spot.w + dx, h: spot.h + dy }
          : { ...spot, x: spot.x + dx, y: spot.y + dy },
      );
    } else if (event.key === 'Delete' || event.key === 'Backspace') {
      event.preventDefault();
      onRemove(id);
    } else if (event.key.toLowerCase() === 'd' && (event.ctrlKey || event.metaKey)) {
      event.preventDefault();
      onDuplicate(id);
    } else if (event.key === 'Escape') {
      setDrag(null);
      onSelect(null);
    }
  };
  const dragOver = (event: DragEvent) => {
    if (!event.dataTransfer.types.includes(draggedNode.type)) return;
    event.preventDefault();
    event.dataTransfer.dropEffect = 'copy';
    const cell = cellAt(event);
    setOver((before) => (before?.x === cell.x && before.y === cell.y ? before : cell));
  };
  const drop = (event: DragEvent) => {
    setOver(null);
    const nodeId = draggedNode.read(event.dataTransfer);
    if (nodeId === null) return;
    event.preventDefault();
    onDropNode(nodeId, cellAt(event));
  };
  const ordered = [...shown.elements].sort((a, b) => a.spot.y - b.spot.y || a.spot.x - b.spot.x);
  return (
    <div className={styles.frame}>
      <div className={styles.columns} aria-hidden>
        {Array.from({ length: COLUMNS }, (_, i) => (
          <span key={i} data-on={on(shown, selected, (s) => i >= s.x && i < s.x + s.w)}>
            {i + 1}
          </span>
        ))}
      </div>
      <div className={styles.rows} aria-hidden>
        {Array.from({ length: count }, (_, i) => (
          <span key={i} data-on={on(shown, selected, (s) => i >= s.y && i < s.y + s.h)}>
            {rowLetter(i)}
          </span>
        ))}
      </div>
      <div
        ref={sheet}
        className={styles.sheet}
        style={{ height: count * (ROW + GAP) - GAP }}
        role="group"
        aria-label="The sheet. Arrows move the chosen element, with Shift they change its size; Delete removes it, Ctrl D duplicates it."
        onDragOver={dragOver}
        onDragLeave={() => setOver(null)}
        onDrop={drop}
      >
        {ordered.map((element) => {
          const index = content.elements.findIndex((e) => e.id === element.id);
          const chosen = element.id === selected;
          return (
            <div key={element.id} style={gridArea(element)} className={styles.place} data-selected={chosen}>
              <div inert className={styles.inside}>
                <ElementView element={element} />
              </div>
              <button
                type="button"
                className={styles.cover}
                aria-pressed={chosen}
                aria-label={`${index + 1}, ${KIND_WORDS[element.kind].name}, ${titleOf(element, facts)}: ${spotInWords(element.spot)}`}
                onClick={() => onSelect(element.id)}
                onFocus={(e) => e.currentTarget.matches(':focus-visible') && onSelect(element.id)}
                onPointerDown={(e) => begin(e, element, null)}
                onPointerMove={go}
                onPointerUp={end}
                onPointerCancel={() => setDrag(null)}
                onKeyDown={(e) => key(e, element)}
              />
              <Balloon n={index + 1} on={chosen} className={styles.balloon ?? ''} />
              {chosen &&
                HANDLES.map(([name, edges]) => (
                  <span
                    key={name}
                    aria-hidden
                    className={styles.handle}
                    data-at={name}
                    onPointerDown={(e) => begin(e, element, edges)}
                    onPointerMove={go}
                    onPointerUp={end}
                    onPointerCancel={() => setDrag(null)}
                  />
                ))}
            </div>
          );
        })}
        {over && (
          <div
            className={styles.ghost}
            style={{ gridArea: `${over.y + 1} / ${Math.min(over.x, COLUMNS - 3) + 1} / span 2 / span 3` }}
            aria-hidden
          />
        )}
        <p className={styles.free} style={{ gridArea: `${rows + 2} / 1 / span 3 / span ${COLUMNS}` }}>
          Drag a way here from the drawing on the left, or add an element.
        </p>
      </div>
    </div>
  );
}

/** Whether the chosen element has a column, or a row. */
const on = (content: DashboardContent, selected: string | null, has: (spot: Spot) => boolean): boolean => {
  const element = content.elements.find((e) => e.id === selected);
  return element !== undefined && has(element.spot);
};

/** With the edges that the pointer has moved by so many columns and rows; the others stay. */
function resized({ x, y, w, h }: Spot, edges: Edges, dx: number, dy: number): Spot {
  const left = edges.left ? Math.min(Math.max(0, x + dx), x + w - 1) : x;
  const top = edges.top ? Math.min(Math.max(0, y + dy), y + h - 1) : y;
  const right = edges.right ? Math.max(x + 1, Math.min(COLUMNS, x + w + dx)) : x + w;
  const bottom = edges.bottom ? Math.max(y + 1, y + h + dy) : y + h;
  return { x: left, y: top, w: right - left, h: bottom - top };
}
