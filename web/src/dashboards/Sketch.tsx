import { COLUMNS, rowsOf, type DashboardElement } from '@loka/core/dashboards';
import styles from './DashboardsPage.module.css';

const UNIT = 12;
const SHOWN_ROWS = 12;

/** The arrangement of a dashboard in small. */
export function Sketch({ elements }: { elements: DashboardElement[] }) {
  const rows = Math.max(SHOWN_ROWS, Math.min(20, rowsOf(elements)));
  return (
    <svg
      viewBox={`0 0 ${COLUMNS * UNIT} ${rows * 8}`}
      className={styles.sketch}
      aria-hidden
      preserveAspectRatio="xMidYMin slice"
    >
      {elements.map(({ id, kind, spot }) => (
        <rect
          key={id}
          x={spot.x * UNIT + 1}
          y={spot.y * 8 + 1}
          width={spot.w * UNIT - 2}
          height={spot.h * 8 - 2}
          data-kind={kind}
        />
      ))}
    </svg>
  );
}
