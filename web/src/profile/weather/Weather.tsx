import type { PlaceWeather } from '@loka/contract/profile';
import { Link } from 'react-router';
import { isRefused } from '../../api/client.js';
import { useSite, useWeather } from '../../api/useApi.js';
import { useWaits } from '../../shared/InOrder.js';
import { Answer } from '../Answer.js';
import { AlongAxis, UpAxis } from '../Axes.js';
import profiles from '../Profiles.module.css';
import styles from './Weather.module.css';
import { besideSays, lineAt, rangeOf, weatherSays } from './weatherSays.js';

const WIDTH = 960;
const HEIGHT = 300;

interface Span {
  from: number;
  to: number;
}

/** How the energy of a place's days hangs on the temperature outside; nothing where the site does not measure that. */
export function Weather({
  nodeId,
  now,
  beside,
}: {
  nodeId: number;
  now: Span;
  /** Another period to hold it against, and what that is called. */
  beside: (Span & { words: string }) | null;
}) {
  const measured = useSite().data?.site?.outdoorPointId ?? null;
  const { data, error } = useWeather(measured === null ? null : nodeId, now.from, now.to);
  useWaits(measured !== null && data?.nodeId !== nodeId && !error);
  const other = useWeather(measured === null || !beside ? null : nodeId, beside?.from ?? 0, beside?.to ?? 0);
  if (measured === null) return null;
  if (isRefused(error) && error.problem.status === 409)
    return (
      <section aria-label="Temperature outside">
        <header className={profiles.title}>
          <h2>Against the temperature outside</h2>
        </header>
        <p className="muted">
          {error.problem.detail} <Link to="/settings">Settings</Link>
        </p>
      </section>
    );
  const found = data?.nodeId === nodeId ? data : null;
  const isThen = beside && other.data?.nodeId === nodeId && Math.abs(other.data.from - beside.from) < 900_000;
  const then = isThen && other.data && found ? besideSays(found, other.data, beside.words) : [];
  return (
    <div className={profiles.both}>
      <Answer
        label="Temperature outside"
        title="Against the temperature outside"
        note="by whole days"
        sentences={found && [...weatherSays(found), ...then]}
        error={error}
      />
      {found && !error && found.days.length > 1 && <Days found={found} />}
    </div>
  );
}

/** A mark a day: how warm it was, and what was taken. */
function Days({ found: { days, fit } }: { found: PlaceWeather }) {
  const [coldest, warmest] = rangeOf(days);
  const [left, right] = [Math.floor(coldest) - 0.5, Math.ceil(warmest) + 0.5];
  const energies = days.map((d) => d.energy);
  const [low, high] = [Math.min(0, ...energies), Math.max(1, ...energies)];
  const x = (celsius: number) => ((celsius - left) / (right - left)) * WIDTH;
  const y = (wh: number) => HEIGHT - 6 - ((wh - low) / (high - low)) * (HEIGHT - 18);
  const scale = [high, (high + low) / 2, low];
  const marks = [0, 0.25, 0.5, 0.75, 1].map((s) => left + s * (right - left));
  const corners = (from: number, to: number) =>
    fit?.bends && fit.base > from && fit.base < to ? [from, fit.base, to] : [from, to];
  return (
    <section aria-label="Days by temperature" className={profiles.picture}>
      <header className={profiles.title}>
        <h2>Day by day</h2>
        <small>
          <i className={styles.key} data-kind="working" /> working{' '}
          <i className={styles.key} data-kind="closed" /> closed
        </small>
      </header>
      <div className={profiles.day}>
        <UpAxis values={scale} unit="Wh" at={(wh) => y(wh) / HEIGHT} />
        <svg
          viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
          preserveAspectRatio="none"
          role="img"
          aria-label={`Energy of ${days.length} days by the temperature outside, ${coldest.toFixed(1)} to ${warmest.toFixed(1)} °C`}
        >
          {fit?.kinds.map((kind) => (
            <polyline
              key={kind.kind}
              className={profiles.level}
              points={corners(coldest, warmest)
                .map((c) => `${x(c).toFixed(1)},${y(lineAt(fit, kind, c)).toFixed(1)}`)
                .join(' ')}
            />
          ))}
          {days.map((d) => (
            <line
              key={d.start}
              className={styles.mark}
              data-kind={d.kind}
              x1={x(d.celsius)}
              x2={x(d.celsius)}
              y1={y(d.energy)}
              y2={y(d.energy)}
            />
          ))}
        </svg>
        <AlongAxis words={marks.map((c) => `${c.toFixed(1)} °C`)} />
      </div>
    </section>
  );
}
