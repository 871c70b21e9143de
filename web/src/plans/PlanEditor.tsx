import type { Plan } from '@loka/contract/plans';
import { freeId } from '@loka/core/dashboards';
import { onGrid, onHalves, tidiedPlan, type Mark, type PlanContent, type Room } from '@loka/core/plans';
import Button from '@mui/material/Button';
import { useCallback, useState } from 'react';
import { useNavigate } from 'react-router';
import { mutate } from 'swr';
import { BothDialog } from '../shared/BothDialog.js';
import { EditorHead } from '../shared/EditorHead.js';
import { useNotices } from '../shared/notices.js';
import { useUnsaved } from '../shared/unsaved.js';
import { useAutosave, type Edited } from '../shared/useAutosave.js';
import { useDraft } from '../shared/useDraft.js';
import { PlanDrawing, type Chosen } from './PlanDrawing.js';
import styles from './PlanEditor.module.css';
import type { PlanFacts } from './planFacts.js';
import { PlanSheet } from './PlanSheet.js';
import { PlanSide } from './PlanSide.js';

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
  const [drawing, setDrawing] = useState(plan.content.rooms.length === 0 && !plan.content.picture);
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
        <PlanDrawing
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
        <PlanSide
          content={content}
          facts={facts}
          room={room}
          mark={mark}
          onAdd={addMark}
          onGrid={(changes) => {
            // Who has a picture wants to put things on it first.
            if (changes.picture) setDrawing(false);
            edit(changes);
          }}
          onRoom={setRoom}
          onMark={setMark}
          onRemove={remove}
        />
      </div>
      {state.kind === 'conflict' && (
        <BothDialog
          who={state.theirs.who}
          mine={<Counted plan={now} facts={facts} />}
          theirs={<Counted plan={state.theirs} facts={facts} />}
          onMine={() => keepMine(state.theirs)}
          onTheirs={() => takeTheirs(state.theirs)}
        />
      )}
    </div>
  );
}

/** One side of a conflict: the plan in small, and how much is on it. */
const Counted = ({ plan: { name, content }, facts }: { plan: Edited<PlanContent>; facts: PlanFacts }) => (
  <>
    <p>{name}</p>
    <div className={styles.small} inert>
      <PlanSheet content={content} facts={facts} label={name} />
    </div>
    <p className="muted">
      {content.rooms.length} rooms, {content.marks.length} things
    </p>
  </>
);
