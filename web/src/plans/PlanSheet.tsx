import type { PlanContent, Room } from '@loka/core/plans';
import type { CSSProperties, ReactNode } from 'react';
import { PictureImage } from '../pictures/PictureImage.js';
import styles from './PlanSheet.module.css';
import { MarkBody } from './MarkBody.js';
import type { PlanFacts } from './planFacts.js';

/** Where a part of a plan lies, as shares of the whole. */
export const roomStyle = (
  { x, y, w, h }: Pick<Room, 'x' | 'y' | 'w' | 'h'>,
  { columns, rows }: PlanContent,
): CSSProperties => ({
  left: `${(100 * x) / columns}%`,
  top: `${(100 * y) / rows}%`,
  width: `${(100 * w) / columns}%`,
  height: `${(100 * h) / rows}%`,
});
export const markStyle = (
  { x, y }: { x: number; y: number },
  { columns, rows }: PlanContent,
): CSSProperties => ({
  left: `${(100 * x) / columns}%`,
  top: `${(100 * y) / rows}%`,
  // In the middle of the plan it stands centred, at its edges inside of them.
  transform: `translate(${(-100 * x) / columns}%, ${(-100 * y) / rows}%)`,
});

/** The frame of a plan: as large as there is room, in the shape of its grid, on the picture that lies under it. */
export function PlanFrame({
  content,
  facts,
  children,
  grid = false,
}: {
  content: PlanContent;
  facts: PlanFacts;
  children: ReactNode;
  grid?: boolean;
}) {
  const { columns, rows, picture } = content;
  const under = picture && facts.pictures.find((p) => p.id === picture.id);
  return (
    <div className={styles.frame} data-drawing>
      <div
        className={styles.sheet}
        data-grid={grid}
        style={
          {
            aspectRatio: `${columns} / ${rows}`,
            '--columns': columns,
            '--rows': rows,
            '--shape': columns / rows,
          } as CSSProperties
        }
      >
        {picture && under && (
          <PictureImage
            picture={under}
            className={styles.picture}
            drawing={picture.drawing}
            style={{ opacity: picture.strength }}
          />
        )}
        {picture && !under && <p className={styles.lost}>The picture of this plan was removed.</p>}
        {children}
      </div>
    </div>
  );
}

/** A floor plan with live power and state at each place; a click goes to the circuit. */
export function PlanSheet({
  content,
  facts,
  label,
}: {
  content: PlanContent;
  facts: PlanFacts;
  label: string;
}) {
  return (
    <PlanFrame content={content} facts={facts}>
      {content.rooms.map((room) => (
        <div key={room.id} className={styles.room} data-open={room.open} style={roomStyle(room, content)}>
          <span>{room.name}</span>
        </div>
      ))}
      <ul className={styles.marks} aria-label={`On ${label}`}>
        {content.marks.map((mark) => (
          <li key={mark.id} className={styles.mark} style={markStyle(mark, content)}>
            <MarkBody mark={mark} facts={facts} />
          </li>
        ))}
      </ul>
    </PlanFrame>
  );
}
