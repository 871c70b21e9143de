import type { PlaceVoltage } from '@loka/contract/profile';
import { BAND, TEN_MINUTES } from '@loka/core/profile';
import { siteClock } from '@loka/core/time';
import { isRefused } from '../../api/client.js';
import { useVoltage } from '../../api/useApi.js';
import { useWaits } from '../../shared/InOrder.js';
import { Answer } from '../Answer.js';
import { pathOver } from '../pathOver.js';
import profiles from '../Profiles.module.css';
import styles from './Voltage.module.css';
import { voltageSays } from './voltageSays.js';

const WIDTH = 960;
const HEIGHT = 90;

/** How the voltages of a place keep to their band; nothing where none is measured. */
export function Voltage({
  nodeId,
  from,
  to,
  zone,
}: {
  nodeId: number;
  from: number;
  to: number;
  zone: string;
}) {
  const { data, error } = useVoltage(nodeId, from, to);
  useWaits(data?.nodeId !== nodeId && !error);
  const voltage = data?.nodeId === nodeId ? data : null;
  if (isRefused(error) && error.problem.status === 409) return null;
  const sentences = voltage && voltageSays(voltage, zone);
  return (
    <div className={profiles.both}>
      <Answer
        label="Voltage"
        title="Voltage"
        note="ten-minute means, single readings"
        sentences={sentences}
        error={error}
        nothing="No voltage was read in this period."
      />
      {voltage && !error && sentences && sentences.length > 0 && (
        <section aria-label="Voltage by time" className={profiles.picture}>
          <header className={profiles.title}>
            <h2>By time</h2>
            <small>band ±10 %, dips and swells as ticks</small>
          </header>
          {voltage.phases.map((phase) => (
            <Strip key={phase.phase ?? ''} phase={phase} voltage={voltage} />
          ))}
          <div className={styles.times} aria-hidden>
            {[0, 0.25, 0.5, 0.75, 1].map((s) => (
              <span key={s} style={{ left: `${100 * s}%` }}>
                {siteClock(
                  zone,
                  voltage.from + s * (voltage.to - voltage.from),
                  voltage.to - voltage.from > 3 * 86_400_000 ? 'd LLL' : 'ccc HH:mm',
                )}
              </span>
            ))}
          </div>
        </section>
      )}
    </div>
  );
}

function Strip({ phase, voltage }: { phase: PlaceVoltage['phases'][0]; voltage: PlaceVoltage }) {
  const { nominal, from, to } = voltage;
  const [low, high] = [BAND.low * nominal, BAND.high * nominal];
  const known = phase.means.filter((v) => v !== null);
  const ends = [...phase.dips, ...phase.swells].map((e) => e.volts);
  const least = Math.min(low, ...known, ...ends) - 0.02 * nominal;
  const most = Math.max(high, ...known, ...ends) + 0.02 * nominal;
  const x = (t: number) => ((t - from) / Math.max(1, to - from)) * WIDTH;
  const y = (v: number) => (1 - (v - least) / (most - least)) * HEIGHT;
  const line = pathOver(phase.means, (i) => x(phase.start + (i + 0.5) * TEN_MINUTES), y);
  return (
    <div className={styles.strip}>
      <div aria-hidden className={styles.volts}>
        <b>{phase.phase ?? ''}</b>
        <span style={{ top: `${(100 * y(high)) / HEIGHT}%` }}>{Math.round(high)} V</span>
        <span style={{ top: `${(100 * y(low)) / HEIGHT}%` }}>{Math.round(low)} V</span>
      </div>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        preserveAspectRatio="none"
        role="img"
        aria-label={`${phase.phase ?? 'Voltage'}: ${phase.lowest ? `${phase.lowest.volts.toFixed(1)} to ${phase.highest?.volts.toFixed(1)} V` : 'not read'}, ${phase.dips.length} dips, ${phase.swells.length} swells`}
      >
        <rect x={0} y={y(high)} width={WIDTH} height={y(low) - y(high)} className={profiles.wide} />
        <line x1={0} x2={WIDTH} y1={y(nominal)} y2={y(nominal)} className={profiles.level} />
        <path d={line} className={profiles.line} />
        {[...phase.dips, ...phase.swells].map((e) => (
          <line
            key={e.start}
            x1={x(e.start)}
            x2={x(e.start)}
            y1={y(nominal)}
            y2={y(e.volts)}
            className={styles.out}
          />
        ))}
      </svg>
    </div>
  );
}
