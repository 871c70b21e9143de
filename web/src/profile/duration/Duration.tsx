import type { PlaceDuration } from '@loka/contract/profile';
import { printNumber } from '@loka/core/formats';
import { isRefused } from '../../api/client.js';
import { useDuration } from '../../api/useApi.js';
import { useWaits } from '../../shared/InOrder.js';
import { Answer } from '../Answer.js';
import { AlongAxis, UpAxis } from '../Axes.js';
import { pathOver } from '../pathOver.js';
import profiles from '../Profiles.module.css';
import { bestCurve, durationSays } from './durationSays.js';

const WIDTH = 960;
const HEIGHT = 300;

/** For how much of the time a place takes how much, and how far the loads behind it fall together. */
export function Duration({
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
  const { data, error } = useDuration(nodeId, from, to);
  useWaits(data?.nodeId !== nodeId && !error);
  const found = data?.nodeId === nodeId ? data : null;
  if (isRefused(error) && error.problem.status === 409) return null;
  const sentences = found && durationSays(found, zone);
  return (
    <div className={profiles.both}>
      <Answer
        label="Duration"
        title="How much for how long"
        sentences={sentences}
        error={error}
        nothing="Nothing was read in this period."
      />
      {found && !error && sentences && sentences.length > 0 && <Curve found={found} />}
    </div>
  );
}

function Curve({ found }: { found: PlaceDuration }) {
  const { byReadings, byMeans } = found;
  const best = bestCurve(found);
  if (!best) return null;
  const [low, high] = [Math.min(0, best.lowest), Math.max(1, best.highest)];
  const y = (w: number) => HEIGHT - 4 - ((w - low) / (high - low)) * (HEIGHT - 16);
  const line = (watts: readonly number[]) => pathOver(watts, (i) => (i / (watts.length - 1)) * WIDTH, y);
  const scale = [high, best.mean, low].filter((w, i, list) => list.indexOf(w) === i);
  const { digits, unit } = printNumber(best.highest, 'W');
  return (
    <section aria-label="Duration curve" className={profiles.picture}>
      <header className={profiles.title}>
        <h2>Duration curve</h2>
        <small>
          <i className={profiles.key} data-line="last" /> {byReadings ? 'every reading' : 'means'}
          {byReadings && byMeans && (
            <>
              {' '}
              <i className={profiles.key} data-line="median" /> means of{' '}
              {found.step > 60_000 ? 'quarter-hours' : 'minutes'}
            </>
          )}
        </small>
      </header>
      <div className={profiles.day}>
        <UpAxis values={scale} at={(w) => y(w) / HEIGHT} />
        <svg
          viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
          preserveAspectRatio="none"
          role="img"
          aria-label={`Power by the share of the time for which it was reached, at most ${digits} ${unit}`}
        >
          <line x1={0} x2={WIDTH} y1={y(best.mean)} y2={y(best.mean)} className={profiles.level} />
          {byReadings && byMeans && <path d={line(byMeans.watts)} className={profiles.median} />}
          <path d={line(best.watts)} className={profiles.last} />
        </svg>
        <AlongAxis words={[0, 25, 50, 75, 100].map((s) => `${s} %`)} />
      </div>
    </section>
  );
}
