import type { Verification } from '@loka/contract/verify';
import type { Check } from '@loka/core/verify';
import type { ReactNode } from 'react';
import { WaysTable } from './WaysTable.js';

const WIDTH = 104;
const HEIGHT = 34;
/** EN 50160: ±10 % of 230 V or what else the site has; drawn with a margin. */
const BAND = 0.1;

/** The small picture beside a check. */
export function CheckEvidence({ check, verification }: { check: Check; verification: Verification }) {
  const { readings, events, tried } = verification;
  if (check.kind === 'supply' && readings.length > 0)
    return (
      <Voltages
        nominal={verification.nominalVoltage}
        volts={readings.map((r) => ({ line: r.line, volts: r.volts }))}
      />
    );
  const last = events.find((e) => e.own !== null && e.above !== null && Math.abs(e.above) > 10);
  // With clamps on the wrong lines power is no measure of what goes through.
  const misread = verification.checks.some((c) => c.kind === 'phases' && c.verdict === 'fail');
  if ((check.kind === 'through' || check.kind === 'ratio') && last && !misread)
    return <Bars here={last.own as number} above={last.above as number} />;
  if (check.kind === 'phases' && tried && tried.ways.length === 48) return <WaysTable tried={tried} />;
  return <span />;
}

function Voltages({ nominal, volts }: { nominal: number; volts: { line: string; volts: number }[] }) {
  const [low, high] = [nominal * (1 - BAND), nominal * (1 + BAND)];
  const x = (v: number) => 10 + ((Math.max(low, Math.min(high, v)) - low) / (high - low)) * (WIDTH - 20);
  return (
    <Figure label={volts.map((v) => `${v.line} ${v.volts.toFixed(1)} V`).join(', ')}>
      <rect x="10" y="8" width={WIDTH - 20} height="10" fill="var(--accent-soft)" />
      <path d={`M10 4V20M${WIDTH - 10} 4V20`} stroke="var(--ink)" />
      {volts.map(({ line, volts: v }) => (
        <path key={line} d={`M${x(v)} 5V21`} stroke={`var(--${line.toLowerCase()})`} strokeWidth="2" />
      ))}
      <text x="10" y="31" textAnchor="middle">
        {Math.round(low)}
      </text>
      <text x={WIDTH} y="31" textAnchor="end">
        {Math.round(high)} V
      </text>
    </Figure>
  );
}

/** The last load that came or went: here, and at the meter above. */
function Bars({ here, above }: { here: number; above: number }) {
  const most = Math.max(Math.abs(here), Math.abs(above));
  const long = (v: number) => (Math.abs(v) / most) * (WIDTH - 40);
  const right = Math.abs(here / above - 1) < 0.25;
  return (
    <Figure label={`${Math.round(above)} W above, ${Math.round(here)} W here`}>
      <text x="30" y="12" textAnchor="end">
        above
      </text>
      <rect x="36" y="4" width={long(above)} height="9" fill="var(--ink)" />
      <text x="30" y="28" textAnchor="end">
        here
      </text>
      <rect x="36" y="20" width={long(here)} height="9" fill={right ? 'var(--accent)' : 'var(--danger)'} />
      {!right && (
        <rect
          x="36"
          y="20"
          width={long(above)}
          height="9"
          fill="none"
          stroke="var(--danger)"
          strokeDasharray="3 2"
        />
      )}
      <path d="M36 0V34" stroke="var(--ink)" />
    </Figure>
  );
}

const Figure = ({ label, children }: { label: string; children: ReactNode }) => (
  <svg width={WIDTH} height={HEIGHT} viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="img" aria-label={label}>
    {children}
  </svg>
);
