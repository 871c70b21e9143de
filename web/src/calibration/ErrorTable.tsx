import { printError } from '@loka/core/formats';
import { PlainTable } from '../shared/PlainTable.js';
import { Measured } from '../shared/Measured.js';
import type { JudgedPoint } from './takenPoint.js';

/** The taken points with their errors before and after. */
export function ErrorTable({ points, unit }: { points: JudgedPoint[]; unit: string }) {
  if (points.length === 0) return null;
  return (
    <PlainTable
      head={['Point', 'Raw#', 'Spread#', 'Readings#', 'Reference#', 'As found#', 'As left#', '±, 95 %#']}
    >
      {points.map((p) => (
        <tr key={p.from}>
          <td>
            {p.label}
            {p.check && <span className="muted"> check</span>}
          </td>
          <td className="number">
            <Measured value={p.capture.mean} unit={unit} />
          </td>
          <td className="number">
            <Measured value={p.capture.spread} unit={unit} />
          </td>
          <td className="number measured">{p.capture.count}</td>
          <td className="number">
            <Measured value={p.reference} unit={unit} />
          </td>
          <td className="number measured danger">{p.asFound === null ? '–' : printError(p.asFound)}</td>
          <td className="number measured">{p.asLeft === null ? '–' : printError(p.asLeft)}</td>
          <td className="number">
            <Measured value={p.uncertainty} unit={unit} />
          </td>
        </tr>
      ))}
    </PlainTable>
  );
}
