import type { PlaceSteps } from '@loka/contract/profile';
import { siteClock } from '@loka/core/time';
import { isRefused } from '../../api/client.js';
import { useSteps } from '../../api/useApi.js';
import { useWaits } from '../../shared/InOrder.js';
import { Answer } from '../Answer.js';
import profiles from '../Profiles.module.css';
import styles from './Steps.module.css';
import { stepsSays } from './stepsSays.js';

const DAY = 86_400_000;
const WIDTH = 960;
const ROW = 26;
/** The picture shows so much of the end of the period, ms: in more of it runs cannot be told apart. */
const SHOWN = 3 * DAY;

/** What was probably on behind a place that has no meter of its own, by the steps in what nobody meters there. */
export function Steps({
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
  const { data, error } = useSteps(nodeId, from, to);
  useWaits(data?.nodeId !== nodeId && !error);
  const found = data?.nodeId === nodeId ? data : null;
  if (isRefused(error) && error.problem.status === 409) return null;
  return (
    <div className={profiles.both}>
      <Answer
        label="Without a meter"
        title="Loads without a meter"
        note={`by the steps in ${found && found.less.length > 0 ? 'what is not metered here' : 'its power'}`}
        sentences={found && stepsSays(found, zone)}
        error={error}
      >
        {found?.loads.length === 0 && (
          <p className="muted">
            No load without a meter is known here. Add loads with their power on the Board, or find them by a
            step test on the Bench.
          </p>
        )}
      </Answer>
      {found && !error && found.count > 0 && <Lanes found={found} zone={zone} />}
    </div>
  );
}

/** When each was probably on, and the steps that nobody has named. */
function Lanes({ found, zone }: { found: PlaceSteps; zone: string }) {
  const { to } = found;
  const from = Math.max(found.from, to - SHOWN);
  const x = (t: number) => ((Math.min(to, Math.max(from, t)) - from) / (to - from)) * WIDTH;
  const loads = found.loads.filter((l) => l.runs.length > 0);
  const strays = found.unexplained.filter((s) => s.t >= from);
  const rows = loads.length + (strays.length > 0 ? 1 : 0);
  const most = Math.max(...strays.map((s) => Math.abs(s.watts)), 1);
  if (rows === 0) return null;
  const height = rows * ROW;
  return (
    <section aria-label="When it was on" className={profiles.picture}>
      <header className={profiles.title}>
        <h2>When</h2>
        <small>
          {from > found.from ? 'the last three days' : 'the whole period'}; ticks are steps that nobody has
          named
        </small>
      </header>
      <div className={styles.lanes}>
        <div className={styles.names} aria-hidden>
          {loads.map((l) => (
            <span key={l.name}>{l.name}</span>
          ))}
          {strays.length > 0 && <span>not named</span>}
        </div>
        <svg
          viewBox={`0 0 ${WIDTH} ${height}`}
          preserveAspectRatio="none"
          style={{ height }}
          role="img"
          aria-label={`When ${loads.length} loads were on, and ${strays.length} steps that nobody has named`}
        >
          {loads.map((load, row) => (
            <g key={load.name}>
              <line x1={0} x2={WIDTH} y1={(row + 0.85) * ROW} y2={(row + 0.85) * ROW} />
              {load.runs
                .filter((r) => !r.lost && (r.end ?? to) > from)
                .map((r, i) => (
                  <rect
                    key={i}
                    x={x(r.start ?? from)}
                    width={Math.max(1, x(r.end ?? to) - x(r.start ?? from))}
                    y={(row + 0.2) * ROW}
                    height={0.65 * ROW}
                    opacity={0.4 + 0.6 * load.sure}
                  />
                ))}
            </g>
          ))}
          {strays.map((s, i) => {
            const middle = (rows - 0.5) * ROW;
            return <path key={i} d={`M${x(s.t)} ${middle}V${middle - (s.watts / most) * 0.42 * ROW}`} />;
          })}
        </svg>
        <div className={styles.times} aria-hidden>
          {[0, 0.25, 0.5, 0.75, 1].map((s) => (
            <span key={s} style={{ left: `${100 * s}%` }}>
              {siteClock(zone, from + s * (to - from), 'ccc HH:mm')}
            </span>
          ))}
        </div>
      </div>
    </section>
  );
}
