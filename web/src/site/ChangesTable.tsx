import { changeInWords, type ChangedKind } from '@loka/contract/changes';
import type { AuditEntry } from '@loka/contract/health';
import { siteClock } from '@loka/core/time';
import {
  useAudit,
  useDashboards,
  useDevices,
  useFormerDevices,
  useInstallation,
  useLinks,
  usePoints,
  useRegisterMaps,
  useSwitches,
  useVirtualMeters,
} from '../api/useApi.js';
import { nodeTitle } from '../shared/nodes.js';
import { PlainTable } from '../shared/PlainTable.js';
import { EmptyState, FailedState, LoadingState } from '../shared/states.js';
import { usePointTitle } from '../shared/usePointTitle.js';
import styles from './ChangesTable.module.css';

/** Who has changed what: in words, with what was sent beside it. */
export function ChangesTable({ zone }: { zone: string }) {
  const { data: audit, error, mutate } = useAudit();
  const nameNow = useNames();
  // What has been removed since is called by its name in its earlier changes as well.
  const removed = new Map(
    audit?.flatMap((entry) => {
      const { kind, id } = changeInWords(entry);
      return entry.name !== null && kind !== null ? [[`${kind} ${id}`, entry.name] as const] : [];
    }),
  );
  const nameOf = (kind: ChangedKind, id: number) =>
    nameNow(kind, id) ?? removed.get(`${kind} ${id}`) ?? `no. ${id}`;
  return (
    <section aria-label="Changes">
      <h1>Changes</h1>
      {!audit ? (
        error ? (
          <FailedState error={error} retry={() => void mutate()} />
        ) : (
          <LoadingState />
        )
      ) : audit.length === 0 ? (
        <EmptyState title="Nothing has been changed yet">
          Each change is kept here, with when it was made and by whom.
        </EmptyState>
      ) : (
        <PlainTable head={['Time', 'By', 'What', 'Sent']}>
          {audit.map((entry) => {
            const { words, kind, id } = changeInWords(entry);
            const name =
              entry.name ?? (kind !== null && id !== null ? nameOf(kind, id) : sentName(entry.detail));
            return (
              <tr key={entry.id}>
                <td className="measured">{siteClock(zone, entry.at, 'd LLL HH:mm:ss')}</td>
                <td className={styles.who}>{entry.who}</td>
                <td>
                  {words}
                  {name !== null && <span className="muted"> · {name}</span>}
                </td>
                <td className={styles.sent}>{sentOf(entry.detail)}</td>
              </tr>
            );
          })}
        </PlainTable>
      )}
    </section>
  );
}

/** The name of something new is in what was sent. */
const sentName = (detail: unknown): string | null =>
  typeof detail === 'object' && detail !== null && 'name' in detail && typeof detail.name === 'string'
    ? detail.name
    : null;

const sentOf = (detail: AuditEntry['detail']): string => {
  const text = JSON.stringify(detail);
  return text === '{}' || text === 'null' ? '' : text;
};

/** What something is called now; null where it is no longer there. */
function useNames(): (kind: ChangedKind, id: number) => string | null {
  const { data: places = [] } = useInstallation();
  const { data: points = [] } = usePoints();
  const { data: former = [] } = useFormerDevices();
  const titleOf = usePointTitle();
  const { data: devices = [] } = useDevices();
  const named: Partial<Record<ChangedKind, readonly { id: number; name: string }[]>> = {
    link: useLinks().data ?? [],
    device: [...devices, ...former],
    map: useRegisterMaps().data ?? [],
    switch: useSwitches().data ?? [],
    dashboard: useDashboards().data ?? [],
    'virtual meter': (useVirtualMeters().data ?? []).map(({ pointId, name }) => ({ id: pointId, name })),
  };
  return (kind, id) => {
    if (kind === 'place') {
      const place = places.find((p) => p.id === id);
      return place ? nodeTitle(place) : null;
    }
    if (kind === 'point') {
      const point = points.find((p) => p.id === id);
      return point ? titleOf(point) : null;
    }
    return named[kind]?.find((n) => n.id === id)?.name ?? null;
  };
}
