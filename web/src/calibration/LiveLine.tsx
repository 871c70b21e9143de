const WIDTH = 280;
const HEIGHT = 30;

/** The last half minute of a raw reading: one sees whether it lies still. */
export function LiveLine({ trace }: { trace: { t: number; v: number }[] }) {
  const last = trace.at(-1);
  if (!last || trace.length < 2) return <svg width="100%" height={HEIGHT} aria-hidden />;
  const values = trace.map((r) => r.v);
  const middle = (Math.max(...values) + Math.min(...values)) / 2;
  // At least 1 % high, so that the last digit does not look like a storm.
  const half = Math.max((Math.max(...values) - Math.min(...values)) / 2, Math.abs(middle) * 0.01, 0.01);
  const x = (t: number) => WIDTH - ((last.t - t) / 30_000) * WIDTH;
  const y = (v: number) => HEIGHT / 2 - ((v - middle) / half) * (HEIGHT / 2 - 3);
  return (
    <svg
      width="100%"
      height={HEIGHT}
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      preserveAspectRatio="none"
      role="img"
      aria-label="The last half minute"
    >
      <path d={`M0 1.5H${WIDTH}M0 ${HEIGHT - 1.5}H${WIDTH}`} stroke="var(--rule)" />
      <path
        d={trace.map((r, i) => `${i === 0 ? 'M' : 'L'}${x(r.t).toFixed(1)} ${y(r.v).toFixed(1)}`).join('')}
        fill="none"
        stroke="var(--ink)"
        vectorEffect="non-scaling-stroke"
      />
    </svg>
  );
}
