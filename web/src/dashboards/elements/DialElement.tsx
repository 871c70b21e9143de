import type { DashboardElement } from '@loka/core/dashboards';
import { ReadingsOrigin } from '../../shared/Reading.js';
import { useFacts } from '../facts.js';
import { scaleFor, titleOf, type Shown } from '../shown.js';
import { Age } from './Age.js';
import { Dial } from './Dial.js';
import { Digits } from './Digits.js';
import { isOutside } from './instrument.js';
import { InBand } from './NumberElement.js';
import { Tube } from './Tube.js';
import styles from './elements.module.css';
import { useValue } from './useValue.js';

/** A quantity against what it should be: a dial, or a level that fills. */
export function DialElement({ element, shown }: { element: DashboardElement; shown: Shown }) {
  const facts = useFacts();
  const live = useValue(shown);
  const scale = scaleFor(element, shown, facts);
  if (!scale)
    return (
      <div className={styles.dial}>
        <p className="muted">Its range is not known: set a scale.</p>
        <ReadingsOrigin points={live.points} label={`Where ${shown.name} comes from`}>
          <Digits value={live.value} unit={shown.unit} digits={element.digits} old={live.old} />
        </ReadingsOrigin>
      </div>
    );
  const value =
    live.value !== null && shown.point?.definition.quantity === 'power-factor'
      ? Math.abs(live.value)
      : live.value;
  const outside = isOutside(scale, value);
  const label = titleOf(element, facts);
  return (
    <div className={styles.dial} data-outside={outside}>
      <div className={styles.instrument}>
        {element.kind === 'dial' ? (
          <Dial value={value} scale={scale} unit={shown.unit} label={label} />
        ) : (
          <Tube value={value} scale={scale} unit={shown.unit} label={label} />
        )}
      </div>
      <div className={styles.below}>
        <ReadingsOrigin points={live.points} label={`Where ${shown.name} comes from`}>
          <Digits value={live.value} unit={shown.unit} digits={element.digits} old={live.old} />
        </ReadingsOrigin>
        {live.old || live.value === null ? <Age live={live} /> : <InBand outside={outside} />}
      </div>
    </div>
  );
}
