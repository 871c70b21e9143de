import type { Plan } from '@loka/contract/plans';
import {
  drawnRoom,
  LEAST_CELLS,
  MOST_CELLS,
  onGrid,
  onHalves,
  tidiedPlan,
  type Mark,
  type PlanContent,
  type Room,
} from '@loka/core/plans';
import { freeId } from '@loka/core/dashboards';
import Button from '@mui/material/Button';
import { useCallback, useRef, useState, type DragEvent, type KeyboardEvent, type PointerEvent } from 'react';
import { useNavigate } from 'react-router';
import { mutate } from 'swr';
import { Confirm } from '../shared/Confirm.js';
import { draggedNode } from '../shared/draggedNode.js';
import { EditorHead } from '../shared/EditorHead.js';
import { NameField } from '../shared/NameField.js';
import { nodeTitle } from '../shared/nodes.js';
import { useNotices } from '../shared/notices.js';
import { useUnsaved } from '../shared/unsaved.js';
import { useAutosave, type Edited } from '../shared/useAutosave.js';
import { useDraft } from '../shared/useDraft.js';
import { MarkBody } from './MarkBody.js';
import styles from './PlanEditor.module.css';
import sheet from './PlanSheet.module.css';
import { markStyle, PlanFrame, roomStyle } from './PlanSheet.js';
import type { PlanFacts } from './planFacts.js';

type Chosen = { of: 'room' | 'mark'; id: string } | null;

/** A floor plan while it is drawn: rooms on the grid, and what is where in them. */
export default function PlanEditor({ plan, facts }: { plan: Plan; facts: PlanFacts }) {
  const draft = useDraft<Edited<PlanContent>>({
    name: plan.name,
    content: plan.content,
  });
  const { now, change } = draft;
  const adopt = useCallback((theirs: Edited<PlanContent>) => change(theirs), [change]);
  const { state, flush, keepMine, takeTheirs } = useAutosave('/plans', plan, now, adopt);
  useUnsaved(
    state.kind === 'waiting' || state.kind === 'refused' || state.kind === 'conflict'
      ? `the last changes to ${now.name}`
      : null,
  );
  const [chosen, setChosen] = useState<Chosen>(null);
  const [drawing, setDrawing] = useState(plan.content.rooms.length === 0);
  const navigate = useNavigate();
  const { attempt } = useNotices();
  const { content } = now;
  const edit = (changes: Partial<PlanContent>) =>
    change({ ...now, content: tidiedPlan({ ...content, ...changes }) });
  const all = [...content.rooms, ...content.marks];

  const addRoom = (at: Pick<Room, 'x' | 'y' | 'w' | 'h'>) => {
    const room: Room = { id: freeId(all), name: '', open: false, ...at };
    edit({ rooms: [...content.rooms, room] });
    setChosen({ of: 'room', id: room.id });
    setDrawing(false);
  };
  const addMark = (kind: Mark['kind'], ref: number, at?: { x: number; y: number }) => {
    const { columns, rows } = content;
    const mark: Mark = {
      id: freeId(all),
      kind,
      ref,
      name: '',
      note: '',
      ...(at ?? { x: columns / 2, y: rows / 2 }),
    };
    edit({ marks: [...content.marks, mark] });
    setChosen({ of: 'mark', id: mark.id });
  };
  const setRoom = (id: string, changes: Partial<Room>) =>
    edit({ rooms: content.rooms.map((r) => (r.id === id ? onGrid({ ...r, ...changes }, content) : r)) });
  const setMark = (id: string, changes: Partial<Mark>) =>
    edit({ marks: content.marks.map((m) => (m.id === id ? onHalves({ ...m, ...changes }, content) : m)) });
  const remove = () => {
    edit({
      rooms: content.rooms.filter((r) => r.id !== chosen?.id),
      marks: content.marks.filter((m) => m.id !== chosen?.id),
    });
    setChosen(null);
  };
  const done = () =>
    void attempt(async () => {
      await flush();
      await mutate('/plans');
      await navigate(`/field/plans/${plan.id}`);
    });
  const room = chosen?.of === 'room' ? content.rooms.find((r) => r.id === chosen.id) : undefined;
  const mark = chosen?.of === 'mark' ? content.marks.find((m) => m.id === chosen.id) : undefined;
  return (
    <div className={styles.editor}>
      <EditorHead
        draft={draft}
        label="Name of the plan"
        state={state}
        zone={facts.site?.timeZone ?? 'UTC'}
        onDone={done}
      >
        <Button
          variant={drawing ? 'contained' : 'outlined'}
          aria-pressed={drawing}
          onClick={() => setDrawing(!drawing)}
        >
          Draw a room
        </Button>
      </EditorHead>
      <div className={styles.both}>
        <Drawing
          content={content}
          facts={facts}
          chosen={chosen}
          drawing={drawing}
          onChoose={setChosen}
          onDrawn={addRoom}
          onRoom={setRoom}
          onMark={setMark}
          onRemove={remove}
          onDrop={(nodeId, at) => addMark('place', nodeId, at)}
        />
        <section className={styles.side} aria-label="What is on the plan">
          <label>
            Put on the plan{' '}
            <select
              value=""
              onChange={(e) => {
                const [kind, ref] = e.target.value.split(' ');
                addMark(kind as Mark['kind'], Number(ref));
              }}
            >
              <option value="">choose …</option>
              <optgroup label="Circuits, loads, boards">
                {facts.nodes.map((n) => (
                  <option key={n.id} value={`place ${n.id}`}>
                    {nodeTitle(n)}
                  </option>
                ))}
              </optgroup>
              <optgroup label="Outlet, lamp or box on">
                {facts.nodes
                  .filter((n) => n.kind === 'circuit')
                  .map((n) => (
                    <option key={n.id} value={`outlet ${n.id}`}>
                      an outlet on {nodeTitle(n)}
                    </option>
                  ))}
              </optgroup>
              <optgroup label="Devices">
                {facts.devices.map((d) => (
                  <option key={d.id} value={`device ${d.id}`}>
                    {d.name}
                  </option>
                ))}
              </optgroup>
            </select>
          </label>
          <p className="muted">
            Or drag a way from the drawing on the left. Arrows move what is chosen, with Shift they size a
            room; Delete takes it off.
          </p>
          <fieldset className={styles.size}>
            <legend>Grid</legend>
            {(['columns', 'rows'] as const).map((way) => (
              <label key={way}>
                {way}{' '}
                <input
                  type="number"
                  className="plain"
                  min={LEAST_CELLS}
                  max={MOST_CELLS}
                  value={content[way]}
                  onChange={(e) => {
                    const cells = Number(e.target.value);
                    if (Number.isInteger(cells) && cells >= LEAST_CELLS && cells <= MOST_CELLS)
                      edit({ [way]: cells });
                  }}
                />
              </label>
            ))}
          </fieldset>
          {room && (
            <fieldset className={styles.chosen}>
              <legend>Room</legend>
              <label>
                Name{' '}
                <NameField
                  key={room.id}
                  value={room.name}
                  label="Name of the room"
                  maxLength={40}
                  onChange={(name) => setRoom(room.id, { name })}
                />
              </label>
              <label>
                <input
                  type="checkbox"
                  checked={room.open}
                  onChange={(e) => setRoom(room.id, { open: e.target.checked })}
                />{' '}
                outdoors, or without walls
              </label>
              <Button color="error" onClick={remove}>
                Take the room off
              </Button>
            </fieldset>
          )}
          {mark && (
            <fieldset className={styles.chosen}>
              <legend>
                {mark.kind === 'outlet' ? 'Outlet' : mark.kind === 'device' ? 'Device' : 'Place'}
              </legend>
              {mark.kind === 'outlet' && (
                <label>
                  Name{' '}
                  <NameField
                    key={`${mark.id} name`}
                    value={mark.name}
                    label="Name of the outlet"
                    maxLength={40}
                    onChange={(name) => setMark(mark.id, { name })}
                  />
                </label>
              )}
              <label>
                Note{' '}
                <NameField
                  key={`${mark.id} note`}
                  value={mark.note}
                  label="Note"
                  maxLength={300}
                  placeholder="behind the fridge, box to the left"
                  onChange={(note) => setMark(mark.id, { note })}
                />
              </label>
              <Button color="error" onClick={remove}>
                Take it off the plan
              </Button>
            </fieldset>
          )}
        </section>
      </div>
      {state.kind === 'conflict' && (
        <Confirm
          title="Somebody has changed it too"
          verb="Save mine over it"
          onConfirm={() => keepMine(state.theirs)}
          onClose={() => takeTheirs(state.theirs)}
        >
          {state.theirs.who} has changed this plan: there are now {state.theirs.content.rooms.length} rooms
          and {state.theirs.content.marks.length} things on it; yours has {content.rooms.length} and{' '}
          {content.marks.length}. Cancel takes what is there.
        </Confirm>
      )}
    </div>
  );
}

interface Drag {
  chosen: NonNullable<Chosen> | null;
  from: { x: number; y: number };
  to: { x: number; y: number };
  sizing: boolean;
}

function Drawing({
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
      <PlanFrame content={content} grid>
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
          {content.rooms.length === 0 && !drag && (
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

const ARROWS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};
