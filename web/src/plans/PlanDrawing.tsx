import { drawnRoom, onGrid, onHalves, type Mark, type PlanContent, type Room } from '@loka/core/plans';
import { useRef, useState, type DragEvent, type KeyboardEvent, type PointerEvent } from 'react';
import { ARROWS } from '../shared/arrows.js';
import { draggedNode } from '../shared/draggedNode.js';
import { MarkBody } from './MarkBody.js';
import styles from './PlanEditor.module.css';
import type { PlanFacts } from './planFacts.js';
import { markStyle, PlanFrame, roomStyle } from './PlanSheet.js';
import sheet from './PlanSheet.module.css';

/** What of the plan is chosen. */
export type Chosen = { of: 'room' | 'mark'; id: string } | null;

interface Drag {
  chosen: NonNullable<Chosen> | null;
  from: { x: number; y: number };
  to: { x: number; y: number };
  sizing: boolean;
}

/** The plan while it is drawn: by pointer, by finger and by keyboard. */
export function PlanDrawing({
  content,
  facts,
  chosen,
  drawing,
  onChoose,
  onDrawn,
  onRoom,
  onMark,
  onRemove,
  onDrop,
}: {
  content: PlanContent;
  facts: PlanFacts;
  chosen: Chosen;
  drawing: boolean;
  onChoose: (chosen: Chosen) => void;
  onDrawn: (at: Pick<Room, 'x' | 'y' | 'w' | 'h'>) => void;
  onRoom: (id: string, changes: Partial<Room>) => void;
  onMark: (id: string, changes: Partial<Mark>) => void;
  onRemove: () => void;
  onDrop: (nodeId: number, at: { x: number; y: number }) => void;
}) {
  const ground = useRef<HTMLDivElement>(null);
  const [drag, setDrag] = useState<Drag | null>(null);
  /** In cells, not rounded. */
  const at = (event: { clientX: number; clientY: number }) => {
    const box = (ground.current as HTMLDivElement).getBoundingClientRect();
    return {
      x: ((event.clientX - box.left) / box.width) * content.columns,
      y: ((event.clientY - box.top) / box.height) * content.rows,
    };
  };
  const begin = (event: PointerEvent, what: Drag['chosen'], sizing = false) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
    if (what) onChoose(what);
    const from = at(event);
    setDrag({ chosen: what, from, to: from, sizing });
  };
  const go = (event: PointerEvent) => setDrag((before) => before && { ...before, to: at(event) });
  const by = drag ? { x: drag.to.x - drag.from.x, y: drag.to.y - drag.from.y } : { x: 0, y: 0 };
  const roomNow = (room: Room): Room =>
    drag?.chosen?.of === 'room' && drag.chosen.id === room.id
      ? onGrid(
          drag.sizing
            ? { ...room, w: room.w + by.x, h: room.h + by.y }
            : { ...room, x: room.x + by.x, y: room.y + by.y },
          content,
        )
      : room;
  const markNow = (mark: Mark): Mark =>
    drag?.chosen?.of === 'mark' && drag.chosen.id === mark.id
      ? onHalves({ ...mark, x: mark.x + by.x, y: mark.y + by.y }, content)
      : mark;
  const cell = ({ x, y }: { x: number; y: number }) => ({
    x: Math.min(content.columns - 1, Math.max(0, Math.floor(x))),
    y: Math.min(content.rows - 1, Math.max(0, Math.floor(y))),
  });
  const drawn = drag && drag.chosen === null ? drawnRoom(cell(drag.from), cell(drag.to)) : null;
  const end = () => {
    if (drag) {
      const { chosen: what } = drag;
      if (what === null) {
        if (drawn) onDrawn(drawn);
      } else if (by.x !== 0 || by.y !== 0) {
        const room = content.rooms.find((r) => r.id === what.id);
        const mark = content.marks.find((m) => m.id === what.id);
        if (room && JSON.stringify(roomNow(room)) !== JSON.stringify(room)) onRoom(room.id, roomNow(room));
        if (mark && JSON.stringify(markNow(mark)) !== JSON.stringify(mark)) onMark(mark.id, markNow(mark));
      }
    }
    setDrag(null);
  };
  const key = (event: KeyboardEvent, room: Room | null, mark: Mark | null) => {
    const [dx, dy] = ARROWS[event.key] ?? [0, 0];
    if (dx !== 0 || dy !== 0) {
      event.preventDefault();
      if (room)
        onRoom(
          room.id,
          event.shiftKey
            ? { w: Math.max(1, room.w + dx), h: Math.max(1, room.h + dy) }
            : { x: room.x + dx, y: room.y + dy },
        );
      if (mark) onMark(mark.id, { x: mark.x + dx / 2, y: mark.y + dy / 2 });
    } else if (event.key === 'Delete' || event.key === 'Backspace') {
      event.preventDefault();
      onRemove();
    } else if (event.key === 'Escape') {
      setDrag(null);
      onChoose(null);
    }
  };
  const pointer = { onPointerMove: go, onPointerUp: end, onPointerCancel: () => setDrag(null) };
  const drop = (event: DragEvent) => {
    const nodeId = draggedNode.read(event.dataTransfer);
    if (nodeId === null) return;
    event.preventDefault();
    onDrop(nodeId, at(event));
  };
  return (
    <div className={styles.drawing}>
      <PlanFrame content={content} facts={facts} grid>
        <div
          ref={ground}
          className={styles.ground}
          data-drawing={drawing}
          role="group"
          aria-label="The plan"
          onPointerDown={(e) => (drawing ? begin(e, null) : onChoose(null))}
          {...pointer}
          onDragOver={(e) => e.dataTransfer.types.includes(draggedNode.type) && e.preventDefault()}
          onDrop={drop}
        >
          {content.rooms.map(roomNow).map((room) => {
            const on = chosen?.id === room.id;
            return (
              <div
                key={room.id}
                className={sheet.room}
                data-open={room.open}
                style={roomStyle(room, content)}
              >
                <span>{room.name}</span>
                <button
                  type="button"
                  className={styles.cover}
                  data-idle={drawing}
                  aria-pressed={on}
                  aria-label={`Room ${room.name || 'without a name'}, ${room.w} by ${room.h} cells`}
                  onFocus={(e) =>
                    e.currentTarget.matches(':focus-visible') && onChoose({ of: 'room', id: room.id })
                  }
                  onPointerDown={(e) => begin(e, { of: 'room', id: room.id })}
                  {...pointer}
                  onKeyDown={(e) => key(e, room, null)}
                />
                {on && !drawing && (
                  <i
                    className={styles.corner}
                    aria-hidden
                    onPointerDown={(e) => begin(e, { of: 'room', id: room.id }, true)}
                    {...pointer}
                  />
                )}
              </div>
            );
          })}
          {drawn && <div className={styles.drawn} style={roomStyle(drawn, content)} />}
          {content.marks.map(markNow).map((mark) => (
            <div
              key={mark.id}
              className={sheet.mark}
              style={markStyle(mark, content)}
              data-on={chosen?.id === mark.id}
            >
              <div inert>
                <MarkBody mark={mark} facts={facts} plain />
              </div>
              <button
                type="button"
                className={styles.cover}
                data-idle={drawing}
                aria-pressed={chosen?.id === mark.id}
                aria-label={`${nameOf(mark, facts)}, at ${mark.x}, ${mark.y}`}
                onFocus={(e) =>
                  e.currentTarget.matches(':focus-visible') && onChoose({ of: 'mark', id: mark.id })
                }
                onPointerDown={(e) => begin(e, { of: 'mark', id: mark.id })}
                {...pointer}
                onKeyDown={(e) => key(e, null, mark)}
              />
            </div>
          ))}
          {content.rooms.length === 0 && !content.picture && !drag && (
            <p className={styles.hint}>Draw the first room: press at one corner, let go at the other.</p>
          )}
        </div>
      </PlanFrame>
    </div>
  );
}

const nameOf = (mark: Mark, { nodes, devices }: PlanFacts): string =>
  mark.kind === 'device'
    ? (devices.find((d) => d.id === mark.ref)?.name ?? 'no longer there')
    : mark.name || (nodes.find((n) => n.id === mark.ref)?.name ?? 'no longer there');
