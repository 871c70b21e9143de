import type { DashboardElement } from '@loka/core/dashboards';
import { useMemo } from 'react';
import { useEnergyCalendar } from '../../api/useApi.js';
import { stepOf } from '../../balance/stepOf.js';
import Chart from '../../charts/Chart.js';
import { energyBarsOption } from '../../charts/energyBars.js';
import { meteredParts } from '../../shared/nodes.js';
import { sumOfPlaces, totalKnown } from '../../place/placeColumns.js';
import { useSheet } from '../../theme/useSheet.js';
import { Measured } from '../../shared/Measured.js';
import { useFacts } from '../facts.js';
import { titleOf, type Shown } from '../shown.js';
import styles from './elements.module.css';
import { useSpan } from './useSpan.js';

/** Energy of a place by hour, day or month. */
export default function BarsElement({ element, shown }: { element: DashboardElement; shown: Shown }) {
  const facts = useFacts();
  const { span, words } = useSpan(element.span);
  const { sheet, flows } = useSheet();
  const node = shown.node;
  const places = useMemo(
    () =>
      node === undefined
        ? []
        : node.powerPointIds.length > 0
          ? [node.id]
          : meteredParts(facts.nodes, node.id).map((p) => p.id),
    [node, facts.nodes],
  );
  const { data } = useEnergyCalendar(
    span.start,
    span.end,
    stepOf(span),
    places.length === 1 ? places[0] : undefined,
  );
  const columns = useMemo(() => (data ? sumOfPlaces(data, places) : null), [data, places]);
  const option = useMemo(
    () => columns && energyBarsOption(columns, null, facts.zone, sheet, flows),
    [columns, facts.zone, sheet, flows],
  );
  if (places.length === 0) return <p className="muted">Nothing on it is metered.</p>;
  if (!columns || !option) return <p className="muted">Loading …</p>;
  return (
    <div className={styles.trend}>
      <p className={styles.legend}>
        <Measured value={totalKnown(columns, 'net')} unit="Wh" /> <span>{words}</span>
      </p>
      <div className={styles.drawing}>
        <Chart option={option} height="100%" label={`${titleOf(element, facts)}, ${words}`} />
      </div>
    </div>
  );
}
