import { LEAST_CELLS, MOST_CELLS, type Mark, type PlanContent, type Room } from '@loka/core/plans';
import Button from '@mui/material/Button';
import { NameField } from '../shared/NameField.js';
import { nodeTitle } from '../shared/nodes.js';
import styles from './PlanEditor.module.css';
import { PlanPicture } from './PlanPicture.js';
import type { PlanFacts } from './planFacts.js';

/** Beside the plan while it is drawn: what can be put on it, its grid, and what is set of the chosen room or thing. */
export function PlanSide({
  content,
  facts,
  room,
  mark,
  onAdd,
  onGrid,
  onRoom,
  onMark,
  onRemove,
}: {
  content: PlanContent;
  facts: PlanFacts;
  room: Room | undefined;
  mark: Mark | undefined;
  onAdd: (kind: Mark['kind'], ref: number) => void;
  onGrid: (changes: Partial<Pick<PlanContent, 'columns' | 'rows' | 'picture'>>) => void;
  onRoom: (id: string, changes: Partial<Room>) => void;
  onMark: (id: string, changes: Partial<Mark>) => void;
  onRemove: () => void;
}) {
  return (
    <section className={styles.side} aria-label="What is on the plan">
      <label>
        Put on the plan{' '}
        <select
          value=""
          onChange={(e) => {
            const [kind, ref] = e.target.value.split(' ');
            onAdd(kind as Mark['kind'], Number(ref));
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
        Or drag a way from the drawing on the left. Arrows move what is chosen, with Shift they size a room;
        Delete removes it.
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
                  onGrid({ [way]: cells });
              }}
            />
          </label>
        ))}
      </fieldset>
      <PlanPicture content={content} pictures={facts.pictures} onChange={onGrid} />
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
              onChange={(name) => onRoom(room.id, { name })}
            />
          </label>
          <label>
            <input
              type="checkbox"
              checked={room.open}
              onChange={(e) => onRoom(room.id, { open: e.target.checked })}
            />{' '}
            outdoors, or without walls
          </label>
          <Button color="error" onClick={onRemove}>
            Remove the room
          </Button>
        </fieldset>
      )}
      {mark && (
        <fieldset className={styles.chosen}>
          <legend>{mark.kind === 'outlet' ? 'Outlet' : mark.kind === 'device' ? 'Device' : 'Place'}</legend>
          {mark.kind === 'outlet' && (
            <label>
              Name{' '}
              <NameField
                key={`${mark.id} name`}
                value={mark.name}
                label="Name of the outlet"
                maxLength={40}
                onChange={(name) => onMark(mark.id, { name })}
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
              onChange={(note) => onMark(mark.id, { note })}
            />
          </label>
          <Button color="error" onClick={onRemove}>
            Remove it from the plan
          </Button>
        </fieldset>
      )}
    </section>
  );
}
