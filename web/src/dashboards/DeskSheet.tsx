import { rowsOf, type DashboardElement } from '@loka/core/dashboards';
import type { CSSProperties } from 'react';
import { ElementView } from './elements/ElementView.js';
import styles from './DeskSheet.module.css';

/** Where an element stands on the grid. */
export const gridArea = ({ spot: { x, y, w, h } }: DashboardElement): CSSProperties => ({
  gridArea: `${y + 1} / ${x + 1} / span ${h} / span ${w}`,
});

/** A dashboard as it is arranged for a desk: to be looked at and operated. */
export function DeskSheet({
  elements,
  fill = false,
  onChoose,
}: {
  elements: DashboardElement[];
  /** Takes the whole height, however many rows there are. */
  fill?: boolean;
  /** Chooses again what an element shows; missing where nothing can be changed. */
  onChoose?: ((id: string) => void) | undefined;
}) {
  return (
    <div
      className={styles.sheet}
      data-fill={fill}
      style={{ '--rows': Math.max(1, rowsOf(elements)) } as CSSProperties}
    >
      {[...elements]
        .sort((a, b) => a.spot.y - b.spot.y || a.spot.x - b.spot.x)
        .map((element) => (
          <div key={element.id} style={gridArea(element)} className={styles.place}>
            <ElementView element={element} onChoose={onChoose && (() => onChoose(element.id))} />
          </div>
        ))}
    </div>
  );
}
