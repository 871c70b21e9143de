import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import {
  phoneAway,
  phoneMoved,
  type DashboardContent,
  type PhoneArrangement,
  type PhonePlace,
} from '@loka/core/dashboards';
import { Balloon } from './Balloon.js';
import { useFacts } from './facts.js';
import styles from './PhoneArranging.module.css';
import { PhoneSheet } from './PhoneSheet.js';
import { KIND_WORDS, titleOf } from './shown.js';

/** The phone's arrangement: a phone in small with live values, its order to be drawn up and down, and what is put away. */
export function PhoneArranging({
  content,
  selected,
  onSelect,
  onChange,
}: {
  content: DashboardContent;
  selected: string | null;
  onSelect: (id: string) => void;
  onChange: (phone: PhoneArrangement) => void;
}) {
  const facts = useFacts();
  const { phone, elements } = content;
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const title = (id: string): string => {
    const element = elements.find((e) => e.id === id);
    return element
      ? titleOf(element, facts) || element.text.slice(0, 30) || KIND_WORDS[element.kind].name
      : '';
  };
  const numberOf = (id: string) => elements.findIndex((e) => e.id === id) + 1;
  const placeOf = (id: string | number) => phone.shown.findIndex((p) => p.id === id) + 1;
  const end = ({ active, over }: DragEndEvent) => {
    const to = phone.shown.findIndex((p) => p.id === over?.id);
    if (to >= 0 && over?.id !== active.id) onChange(phoneMoved(phone, String(active.id), to));
  };
  const half = (id: string) =>
    onChange({ ...phone, shown: phone.shown.map((p) => (p.id === id ? { ...p, half: !p.half } : p)) });
  return (
    <>
      <div className={styles.preview} aria-hidden inert>
        <div className={styles.screen}>
          <PhoneSheet content={content} />
        </div>
      </div>
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        onDragEnd={end}
        accessibility={{
          announcements: {
            onDragStart: ({ active }) =>
              `${title(String(active.id))}: taken, at place ${placeOf(active.id)}.`,
            onDragOver: ({ active, over }) =>
              over ? `${title(String(active.id))}: at place ${placeOf(over.id)}.` : undefined,
            onDragEnd: ({ active, over }) =>
              over ? `${title(String(active.id))}: put at place ${placeOf(over.id)}.` : undefined,
            onDragCancel: ({ active }) => `${title(String(active.id))}: left where it was.`,
          },
          screenReaderInstructions: {
            draggable:
              'Press space to take it, arrows to move it, space to put it there, Escape to leave it.',
          },
        }}
      >
        <SortableContext items={phone.shown.map((p) => p.id)} strategy={verticalListSortingStrategy}>
          <ol className={styles.order} aria-label="Order on the phone">
            {phone.shown.map((place) => (
              <Row
                key={place.id}
                place={place}
                n={numberOf(place.id)}
                title={title(place.id)}
                on={place.id === selected}
                onSelect={() => onSelect(place.id)}
                onHalf={() => half(place.id)}
                onAway={() => onChange(phoneAway(phone, place.id))}
              />
            ))}
          </ol>
        </SortableContext>
      </DndContext>
      <h3 className={styles.fold}>
        Behind the fold <span className="muted">{phone.away.length === 0 ? 'nothing' : ''}</span>
      </h3>
      <ul className={styles.order} aria-label="Behind the fold">
        {phone.away.map((id) => (
          <li key={id} className={styles.row}>
            <Balloon n={numberOf(id)} on={id === selected} />
            <button type="button" className={styles.title} onClick={() => onSelect(id)}>
              {title(id)}
            </button>
            <button
              type="button"
              className={styles.verb}
              onClick={() => onChange(phoneMoved(phone, id, phone.shown.length))}
              aria-label={`Show ${title(id)}`}
            >
              Show
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}

function Row({
  place,
  n,
  title,
  on,
  onSelect,
  onHalf,
  onAway,
}: {
  place: PhonePlace;
  n: number;
  title: string;
  on: boolean;
  onSelect: () => void;
  onHalf: () => void;
  onAway: () => void;
}) {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } =
    useSortable({
      id: place.id,
    });
  return (
    <li
      ref={setNodeRef}
      className={styles.row}
      data-dragging={isDragging}
      style={{ transform: CSS.Translate.toString(transform), transition }}
    >
      <button
        type="button"
        ref={setActivatorNodeRef}
        className={styles.grip}
        {...attributes}
        {...listeners}
        aria-label={`Move ${title} on the phone`}
      >
        <svg viewBox="0 0 8 14" width="8" height="14" aria-hidden>
          <path d="M2 2v10M6 2v10" stroke="currentColor" strokeWidth="2" strokeDasharray="2 2" />
        </svg>
      </button>
      <Balloon n={n} on={on} />
      <button type="button" className={styles.title} onClick={onSelect}>
        {title}
      </button>
      <button
        type="button"
        className={styles.verb}
        aria-pressed={place.half}
        onClick={onHalf}
        aria-label={`½ of the width for ${title}`}
        title="Half of the width, beside another"
      >
        ½
      </button>
      <button type="button" className={styles.verb} onClick={onAway} aria-label={`Archive ${title}`}>
        Archive
      </button>
    </li>
  );
}
