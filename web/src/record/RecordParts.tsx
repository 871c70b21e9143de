import type { RecordSection } from '@loka/contract/record';
import { lazy, Suspense } from 'react';
import { PlainTable } from '../shared/PlainTable.js';
import styles from './Record.module.css';

const ErrorDrawing = lazy(() => import('../calibration/ErrorDrawing.js'));

/** The parts of a record, in the words that are printed as well. */
export function RecordParts({ sections }: { sections: RecordSection[] }) {
  return sections.map(({ title, says, facts, tables, errors }) => (
    <section key={title} className={styles.part} aria-label={title}>
      <h2>{title}</h2>
      {says.map((words) => (
        <p key={words}>{words}</p>
      ))}
      {facts.length > 0 && (
        <dl className={styles.facts}>
          {facts.map(([name, value], i) => (
            <div key={i}>
              <dt className="muted">{name}</dt>
              <dd>{value}</dd>
            </div>
          ))}
        </dl>
      )}
      {tables.map(({ head, rows }) => (
        <PlainTable key={head.join()} head={head}>
          {rows.map((row, i) => (
            <tr key={i}>
              {row.map((text, k) => (
                <td key={k} className={head[k]?.endsWith('#') ? 'number measured' : ''}>
                  {text}
                </td>
              ))}
            </tr>
          ))}
        </PlainTable>
      ))}
      {errors && (
        <Suspense fallback={null}>
          <ErrorDrawing
            points={errors.points.map((p) => ({
              ...p,
              label: `${p.load} ${errors.unit}`,
              reference: p.load,
              uncertainty: p.uncertainty && (p.uncertainty / 100) * Math.abs(p.load),
            }))}
            unit={errors.unit}
            rated={errors.rated}
            accuracy={null}
          />
        </Suspense>
      )}
    </section>
  ));
}
