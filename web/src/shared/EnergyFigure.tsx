import type { EnergyFigures, NodeEnergy } from '@loka/contract/energy';
import { printInUnit, printPercent } from '@loka/core/formats';
import { Measured } from './Measured.js';
import styles from './EnergyFigure.module.css';

/** Below this share of the period the figure says of how much of it it is. */
const KNOWN = 0.99;

const inWords = (value: number | null): string => (value === null ? 'not known' : printInUnit(value, 'Wh'));

/** Where an energy comes from, and what speaks of it, in words for whoever asks. */
export function energyInWords({ source, import: into, export: out, other, estimated }: NodeEnergy): string {
  if (source === null) return 'Its energy is not known.';
  return [
    source === 'counter' ? 'Counted by its meter.' : 'From its power over time.',
    `In ${inWords(into)}, out ${inWords(out)}.`,
    other ? `${other.source === 'power' ? 'Its power says' : 'Its counter says'} ${inWords(other.net)}.` : '',
    estimated > 0 ? `${inWords(estimated)} of it estimated.` : '',
  ]
    .filter(Boolean)
    .join(' ');
}

/** For how much of the period it is known, where that is less than nearly all; and what of it is an estimate. */
export function EnergyNotes({
  coverage,
  estimated,
  net,
  uncertain = false,
}: EnergyFigures & { uncertain?: boolean }) {
  if (net === null) return null;
  return (
    <>
      {coverage < KNOWN && (
        <span className={styles.note}> known for {printPercent(Math.min(coverage, KNOWN))}</span>
      )}
      {uncertain && <span className={styles.note}> uncertain: its wiring</span>}
      {estimated > 0.01 * Math.abs(net) && estimated >= 1 && (
        <span className={styles.note}> {inWords(estimated)} estimated</span>
      )}
    </>
  );
}

/** Net energy of a place in a cell. */
export function EnergyCell({ energy }: { energy: NodeEnergy | undefined }) {
  if (energy?.net == null) return <span className="muted">–</span>;
  return (
    <span className={styles.cell} title={energyInWords(energy)}>
      <Measured value={energy.net} unit="Wh" />
      {energy.uncertainSince !== null && <span className={styles.small}>uncertain: its wiring</span>}
      {energy.coverage < KNOWN && (
        <span className={styles.small}>known for {printPercent(Math.min(energy.coverage, KNOWN))}</span>
      )}
    </span>
  );
}
