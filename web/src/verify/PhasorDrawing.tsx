import type { Phasor } from '@loka/core/verify';
import { Measured } from '../shared/Measured.js';
import styles from './PhasorDrawing.module.css';

const R = 74;
const CENTRE = 96;
/** How far the name of a current stands off its arrow. */
const LABEL = 13;
/** A of which a meter can tell the angle. */
const FLOWS = 0.02;

/** Voltages and currents of a circuit as phasors, L1's voltage upright; the currents to a scale of their own. */
export function PhasorDrawing({
  title,
  phasors,
  wrong = [],
}: {
  title: string;
  phasors: readonly Phasor[];
  /** Lines whose current is not where it should be. */
  wrong?: readonly string[];
}) {
  const most = Math.max(...phasors.map((p) => p.amperes));
  // Without a current to draw there is no scale to draw it to.
  const scale = most > FLOWS ? niceScale(most) : null;
  return (
    <figure className={styles.phasors}>
      <figcaption>{title}</figcaption>
      <svg viewBox={`0 0 ${2 * CENTRE} ${2 * CENTRE + 20}`} role="img" aria-label={inWords(phasors)}>
        <circle
          cx={CENTRE}
          cy={CENTRE}
          r={R * 0.8}
          fill="none"
          stroke="var(--strong-rule)"
          strokeDasharray="2 4"
        />
        {phasors.map((p) => {
          const [x, y] = at(p.voltageAngle, R);
          const [tx, ty] = at(p.voltageAngle, R + 13);
          return (
            <g key={`u${p.line}`}>
              <path
                d={arrow(x, y, 5)}
                stroke={`var(--${p.line.toLowerCase()})`}
                fill="none"
                strokeWidth="1"
              />
              <text x={tx} y={ty + 4} textAnchor="middle">
                U{p.line[1]}
              </text>
            </g>
          );
        })}
        {phasors.map((p) => {
          if (scale === null || p.currentAngle === null || p.amperes <= FLOWS) return null;
          const length = (p.amperes / scale) * R * 0.8;
          const [x, y] = at(p.currentAngle, length);
          // Beside its arrow, however short that is.
          const along = Math.max(LABEL + 4, length * 0.82);
          const aside = (Math.atan2(LABEL, along) * 180) / Math.PI;
          const [tx, ty] = at(p.currentAngle + aside, Math.hypot(along, LABEL));
          const bad = wrong.includes(p.line);
          return (
            <g key={`i${p.line}`}>
              <path
                d={arrow(x, y, 7)}
                stroke={`var(--${p.line.toLowerCase()})`}
                fill="none"
                strokeWidth="3.4"
              />
              {bad && (
                <path d={`M${CENTRE} ${CENTRE}L${x} ${y}`} stroke="var(--danger)" strokeDasharray="3 3" />
              )}
              <text
                x={tx}
                y={ty + 4}
                textAnchor="middle"
                style={{ fontWeight: 600, fill: bad ? 'var(--danger)' : 'var(--ink)' }}
              >
                I{p.line[1]}
              </text>
            </g>
          );
        })}
        <text x={CENTRE} y={2 * CENTRE + 15} textAnchor="middle">
          {scale === null ? 'no current flows' : `circle ${scale} A`}
        </text>
      </svg>
      <table className={styles.phasorTable}>
        <thead>
          <tr>
            <th />
            <th>I</th>
            <th>cos φ</th>
            <th>P</th>
          </tr>
        </thead>
        <tbody>
          {phasors.map((p) => {
            const factor =
              p.currentAngle === null ? null : Math.cos(((p.voltageAngle - p.currentAngle) * Math.PI) / 180);
            return (
              <tr key={p.line} className={wrong.includes(p.line) ? 'danger' : ''}>
                <td>{p.line}</td>
                <td>
                  <Measured value={p.amperes} unit="A" />
                </td>
                <td className="measured">
                  {factor === null || p.amperes <= FLOWS ? '–' : factor.toFixed(2).replace('-', '−')}
                </td>
                <td>
                  <Measured value={factor === null ? null : p.volts * p.amperes * factor} unit="W" />
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {phasors.some((p) => p.mirrored && p.amperes > FLOWS) && (
        <p className={styles.help}>No reactive power is read: a current may as well lead by as much.</p>
      )}
    </figure>
  );
}

/** From the centre, angles counted anticlockwise from upright. */
function at(degrees: number, length: number): [number, number] {
  const angle = (degrees / 180) * Math.PI;
  return [CENTRE - length * Math.sin(angle), CENTRE - length * Math.cos(angle)];
}

function arrow(x: number, y: number, head: number): string {
  const angle = Math.atan2(y - CENTRE, x - CENTRE);
  const side = (by: number) => `${x - head * Math.cos(angle + by)} ${y - head * Math.sin(angle + by)}`;
  return `M${CENTRE} ${CENTRE}L${x} ${y}M${side(0.45)}L${x} ${y}L${side(-0.45)}`;
}

const ROUND = [1, 1.2, 1.5, 2, 2.5, 3, 4, 5, 6, 8, 10];

/** The next round number. */
function niceScale(most: number): number {
  const power = 10 ** Math.floor(Math.log10(most));
  const nice = ROUND.find((n) => n * power >= most) ?? 10;
  return Number((nice * power).toPrecision(2));
}

const inWords = (phasors: readonly Phasor[]): string =>
  phasors
    .map((p) =>
      p.currentAngle === null
        ? `${p.line}: ${p.amperes.toFixed(2)} A, angle not known`
        : `${p.line}: ${p.amperes.toFixed(2)} A at ${Math.round(p.voltageAngle - p.currentAngle)}° behind its voltage`,
    )
    .join('; ');
