const WIDTH = 82;
const HEIGHT = 22;

/** A day in small: mean power by quarter-hour. Breaks where nothing is known. */
export function Sparkline({ values, label }: { values: (number | null)[] | undefined; label: string }) {
  if (!values || values.every((v) => v === null)) return <span className="muted">–</span>;
  const known = values.filter((v) => v !== null);
  const low = Math.min(0, ...known);
  const high = Math.max(1, ...known);
  const x = (i: number) => (i / (values.length - 1)) * WIDTH;
  const y = (v: number) => HEIGHT - 1 - ((v - low) / (high - low)) * (HEIGHT - 2);
  let path = '';
  let open = false;
  values.forEach((v, i) => {
    if (v === null) open = false;
    else {
      path += `${open ? 'L' : 'M'}${x(i).toFixed(1)} ${y(v).toFixed(1)}`;
      open = true;
    }
  });
  return (
    <svg width={WIDTH} height={HEIGHT} viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="img" aria-label={label}>
      <path d={`M0 ${HEIGHT - 0.5}H${WIDTH}`} stroke="var(--rule)" />
      <path d={path} fill="none" stroke="var(--ink)" strokeWidth="1.1" />
    </svg>
  );
}
