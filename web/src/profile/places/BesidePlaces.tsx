import type { InstallationNode } from '@loka/contract/installation';
import type { PlaceProfile } from '@loka/contract/profile';
import type { DayKind } from '@loka/core/profile';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useMemo, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { inWords } from '../../api/client.js';
import { useProfiles } from '../../api/useApi.js';
import { durationInWords } from '../../shared/duration.js';
import { useWaits } from '../../shared/InOrder.js';
import { Measured } from '../../shared/Measured.js';
import { nodeTitle } from '../../shared/nodes.js';
import { PlainTable } from '../../shared/PlainTable.js';
import { useSheet } from '../../theme/useSheet.js';
import { UpAxis } from '../Axes.js';
import { Hours } from '../Carpet.js';
import { pathOver } from '../pathOver.js';
import profiles from '../Profiles.module.css';
import { DAY_TYPE_NAMES } from '../TypicalDay.js';
import styles from './BesidePlaces.module.css';
import { figuresOf } from './figuresOf.js';

const MOST = 6;
const WIDTH = 960;
const HEIGHT = 300;

/** A place beside others over the same period: their figures a day, and their typical days in one picture. */
export function BesidePlaces({
  node,
  nodes,
  profile,
  from,
  to,
}: {
  node: InstallationNode;
  nodes: InstallationNode[];
  profile: PlaceProfile;
  from: number;
  to: number;
}) {
  const [search, setSearch] = useSearchParams();
  const { series: colours } = useSheet();
  const chosen = useMemo(
    () =>
      [...new Set((search.get('places') ?? '').split(',').map(Number))]
        .filter((id) => id !== node.id && nodes.some((n) => n.id === id))
        .slice(0, MOST),
    [search, node.id, nodes],
  );
  const { data: others, error } = useProfiles(chosen, from, to);
  useWaits(chosen.length > 0 && !others && !error);
  const nameOf = (id: number) => {
    const at = nodes.find((n) => n.id === id);
    return at ? nodeTitle(at) : 'a place that is gone';
  };
  const all = [
    { nodeId: node.id, profile, fault: null },
    ...(others ?? []).filter((o) => chosen.includes(o.nodeId)),
  ];
  return (
    <section aria-label="Beside other places">
      <header className={profiles.title}>
        <h2>Beside other places</h2>
        <small>a day of what was read of each</small>
      </header>
      <div className={styles.others}>
        <TextField
          select
          fullWidth
          size="small"
          label="Places to compare"
          value={chosen}
          slotProps={{
            select: {
              multiple: true,
              displayEmpty: true,
              renderValue: (v) =>
                (v as number[]).length === 0 ? 'none' : `${(v as number[]).length} chosen`,
            },
            inputLabel: { shrink: true },
          }}
          onChange={(e) => {
            const ids = (e.target.value as unknown as number[]).slice(0, MOST);
            setSearch(
              (s) => {
                if (ids.length === 0) s.delete('places');
                else s.set('places', ids.join(','));
                return s;
              },
              { replace: true },
            );
          }}
        >
          {nodes
            .filter((n) => n.id !== node.id)
            .map((n) => (
              <MenuItem key={n.id} value={n.id} disabled={chosen.length >= MOST && !chosen.includes(n.id)}>
                {nodeTitle(n)}
              </MenuItem>
            ))}
        </TextField>
      </div>
      {error && <p role="alert">{inWords(error)}</p>}
      {chosen.length > 0 && (
        <>
          <PlainTable
            head={[
              'Place',
              'A day#',
              'Of this one#',
              'Standby#',
              'Highest quarter-hour#',
              'Load factor#',
              'Starts a day#',
              'Run as a rule#',
              'Days read#',
            ]}
          >
            {all.map((o, i) => (
              <Row
                key={o.nodeId}
                name={nameOf(o.nodeId)}
                to={
                  i === 0
                    ? null
                    : `/profiles?at=${o.nodeId}&period=${encodeURIComponent(search.get('period') ?? '')}`
                }
                colour={colours[i % colours.length]}
                profile={o.profile}
                fault={o.fault}
                base={profile}
              />
            ))}
          </PlainTable>
          {!others && !error && <p className="muted">Working it out …</p>}
          <Days
            all={all.flatMap((o, i) =>
              o.profile
                ? [{ name: nameOf(o.nodeId), profile: o.profile, colour: colours[i % colours.length] ?? '' }]
                : [],
            )}
          />
        </>
      )}
    </section>
  );
}

function Row({
  name,
  to,
  colour,
  profile,
  fault,
  base,
}: {
  name: string;
  /** Where its own profile is; null for the place of the page. */
  to: string | null;
  colour: string | undefined;
  profile: PlaceProfile | null;
  fault: Error | null;
  base: PlaceProfile;
}) {
  const figures = profile && figuresOf(profile);
  const first = figuresOf(base);
  const title = (
    <td>
      <span className={styles.swatch} style={{ background: colour }} aria-hidden />{' '}
      {to ? <Link to={to}>{name}</Link> : name}
    </td>
  );
  if (!figures)
    return (
      <tr>
        {title}
        <td colSpan={8} className="muted">
          {fault ? inWords(fault) : 'Nothing was read in this period.'}
        </td>
      </tr>
    );
  return (
    <tr>
      {title}
      <td className="number">
        <Measured value={figures.aDay} unit="Wh" />
      </td>
      <td className="number measured">
        {first && first.aDay > 0 ? `${((100 * figures.aDay) / first.aDay).toFixed(0)} %` : '–'}
      </td>
      <td className="number">
        <Measured value={figures.standby} unit="W" />
      </td>
      <td className="number">
        <Measured value={figures.highest} unit="W" />
      </td>
      <td className="number measured">{figures.loadFactor?.toFixed(2) ?? '–'}</td>
      <td className="number measured">{figures.starts?.toFixed(1) ?? '–'}</td>
      <td className="number measured">{figures.run === null ? '–' : durationInWords(figures.run)}</td>
      <td className="number measured">
        {figures.days.toFixed(1)}, {(100 * figures.read).toFixed(1)} %
      </td>
    </tr>
  );
}

/** The medians of their days, one over the other. */
function Days({ all }: { all: { name: string; profile: PlaceProfile; colour: string }[] }) {
  const kinds = (['working', 'closed', 'holiday'] as const).filter((k) =>
    all.some((o) => o.profile.dayTypes.some((d) => d.name === k)),
  );
  const [wanted, setWanted] = useState<DayKind>('working');
  const kind = kinds.includes(wanted) ? wanted : kinds[0];
  if (!kind) return null;
  const lines = all.map((o) => ({
    ...o,
    watts: o.profile.dayTypes.find((d) => d.name === kind)?.day.p50 ?? [],
  }));
  const known = lines.flatMap((l) => l.watts.filter((w) => w !== null));
  const [low, high] = [Math.min(0, ...known), Math.max(1, ...known)];
  const y = (w: number) => HEIGHT - 6 - ((w - low) / (high - low)) * (HEIGHT - 18);
  const path = (watts: readonly (number | null)[]) =>
    pathOver(watts, (i) => ((i + 0.5) / watts.length) * WIDTH, y);
  return (
    <section aria-label="Typical days beside one another" className={profiles.picture}>
      <header className={profiles.title}>
        <h2>Typical days</h2>
        {kinds.map((k) => (
          <button
            key={k}
            type="button"
            className={profiles.type}
            aria-pressed={k === kind}
            onClick={() => setWanted(k)}
          >
            {DAY_TYPE_NAMES[k]}
          </button>
        ))}
        <span className={profiles.space} />
        <small>medians; the colours are those of the table</small>
      </header>
      <div className={profiles.day}>
        <UpAxis values={[high, low]} at={(w) => y(w) / HEIGHT} />
        <svg
          viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
          preserveAspectRatio="none"
          role="img"
          aria-label={`Medians of ${DAY_TYPE_NAMES[kind].toLowerCase()}: ${lines.map((l) => l.name).join('; ')}`}
        >
          {lines.map((l) => (
            <path
              key={l.profile.nodeId}
              d={path(l.watts)}
              className={profiles.line}
              style={{ stroke: l.colour }}
            />
          ))}
        </svg>
        <Hours />
      </div>
    </section>
  );
}
