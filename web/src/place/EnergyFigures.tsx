import type { EnergySource } from '@loka/contract/energy';
import type { Site } from '@loka/contract/site';
import type { RunningSeen } from '@loka/contract/totals';
import { printInUnit, printSet } from '@loka/core/formats';
import { Link } from 'react-router';
import { Measured } from '../shared/Measured.js';
import { money } from '../shared/money.js';
import { durationInWords } from '../shared/duration.js';
import { changeInWords } from './changeInWords.js';
import styles from './EnergyFigures.module.css';
import { totalKnown, type PlaceColumns } from './placeColumns.js';

const SOURCE_WORDS: Record<EnergySource, string> = {
  counter: 'counted by its meter',
  power: 'from its power over time',
};

/** Energy of the period with its cost and CO₂, run time and starts; each beside the compared period. */
export function EnergyFigures({
  columns,
  compared,
  running,
  words,
  site,
}: {
  columns: PlaceColumns;
  compared: { columns: PlaceColumns; until: number; words: string } | null;
  running: RunningSeen | null;
  words: string;
  site: Site | null;
}) {
  const into = totalKnown(columns, 'import');
  const out = totalKnown(columns, 'export');
  const before = compared && totalKnown(compared.columns, 'import', compared.until);
  const price = site?.price ?? null;
  const carbon = site?.carbon ?? null;
  const partly = columns.coverage.some((c) => c < 0.99 && c > 0);
  return (
    <section aria-label="Figures" className={styles.figures}>
      <h2>{words}</h2>
      <dl>
        <div>
          <dt>
            Taken
            {columns.sources.length > 0 && `, ${columns.sources.map((s) => SOURCE_WORDS[s]).join(' and ')}`}
          </dt>
          <dd>
            <Measured value={into} unit="Wh" />
            {compared && <Change now={into} before={before} words={compared.words} />}
          </dd>
        </div>
        {(out ?? 0) > 0 && (
          <div>
            <dt>Given</dt>
            <dd>
              <Measured value={out} unit="Wh" />
            </dd>
          </div>
        )}
        <div>
          <dt>Cost</dt>
          <dd>
            {price === null || into === null ? (
              <Link to="/settings">set a price</Link>
            ) : (
              <>
                <span className="measured">{money((into / 1000) * price, site)}</span>
                <small> at {money(price, site, 3)} a kWh</small>
              </>
            )}
          </dd>
        </div>
        <div>
          <dt>CO₂</dt>
          <dd>
            {carbon === null || into === null ? (
              <Link to="/settings">set a factor</Link>
            ) : (
              <>
                <span className="measured">{grams((into / 1000) * carbon)}</span>
                <small> at {carbon} g a kWh</small>
              </>
            )}
          </dd>
        </div>
        {running && (
          <div>
            <dt>Ran</dt>
            <dd>
              <span className="measured">{durationInWords(running.runMs)}</span>
              <small>
                , {running.exact ? '' : 'at least '}
                {running.starts} start{running.starts === 1 ? '' : 's'}, above{' '}
                {printSet(running.threshold, 'W')}
                {running.known < 0.99 ? `; known for ${Math.floor(100 * running.known)} %` : ''}
              </small>
            </dd>
          </div>
        )}
      </dl>
      {partly && <p className="warn">Parts of the period are not known; they are not in these figures.</p>}
    </section>
  );
}

function Change({ now, before, words }: { now: number | null; before: number | null; words: string }) {
  if (now === null || before === null) return <small> {words}: not known</small>;
  return (
    <small>
      {' '}
      {changeInWords(now, before)} beside {words}
    </small>
  );
}

/** "180 g", "1.24 kg" */
export const grams = (g: number): string => printInUnit(g, 'g');
