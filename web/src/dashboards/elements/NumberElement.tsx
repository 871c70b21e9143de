import type { DashboardElement } from '@loka/core/dashboards';
import { useEnergyOf } from '../../api/useApi.js';
import { energyInWords } from '../../shared/EnergyFigure.js';
import { ReadingsOrigin } from '../../shared/Reading.js';
import { useFacts } from '../facts.js';
import { scaleFor, type Shown } from '../shown.js';
import { Age } from './Age.js';
import { Digits } from './Digits.js';
import styles from './elements.module.css';
import { isOutside } from './instrument.js';
import { useSpan } from './useSpan.js';
import { useValue } from './useValue.js';

/** One number, large enough to be read from across the room. */
export function NumberElement({ element, shown }: { element: DashboardElement; shown: Shown }) {
  return shown.source.of === 'energy' ? (
    <EnergyNumber element={element} shown={shown} />
  ) : (
    <LiveNumberView element={element} shown={shown} />
  );
}

function LiveNumberView({ element, shown }: { element: DashboardElement; shown: Shown }) {
  const facts = useFacts();
  const live = useValue(shown);
  const scale = element.band
    ? scaleFor({ ...element, scale: element.scale ?? element.band }, shown, facts)
    : null;
  const outside = scale !== null && isOutside(scale, live.value);
  return (
    <div className={styles.number} data-outside={outside}>
      <ReadingsOrigin points={live.points} label={`Where ${shown.name} comes from`}>
        <Digits value={live.value} unit={shown.unit} digits={element.digits} old={live.old} />
      </ReadingsOrigin>
      <span className={styles.side}>
        <Age live={live} />
        {scale && live.value !== null && <InBand outside={outside} />}
      </span>
    </div>
  );
}

export const InBand = ({ outside }: { outside: boolean }) => (
  <span className={outside ? 'danger' : 'ok'}>{outside ? 'outside its band' : 'in band'}</span>
);

function EnergyNumber({ element, shown }: { element: DashboardElement; shown: Shown }) {
  const { span, words } = useSpan(element.span);
  const { data } = useEnergyOf(shown.node?.id ?? 0, span.start, span.end);
  const energy = data?.find((e) => e.nodeId === shown.node?.id);
  return (
    <div className={styles.number} title={energy && energyInWords(energy)}>
      <Digits value={energy?.net ?? null} unit="Wh" digits={element.digits} old={false} />
      <span className={styles.side}>
        <span className={styles.age}>{words}</span>
        {energy && energy.net !== null && energy.coverage < 0.99 && (
          <span className="warn">known for {Math.floor(100 * energy.coverage)} %</span>
        )}
      </span>
    </div>
  );
}
