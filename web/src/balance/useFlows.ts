import type { PeriodBalance } from '@loka/contract/balance';
import type { InstallationNode } from '@loka/contract/installation';
import {
  balanceOf,
  ofPower,
  pictureOf,
  type Amount,
  type Bar,
  type BalanceValues,
  type Picture,
} from '@loka/core/balance';
import { useMemo } from 'react';
import { useSumOfEach } from '../api/live.js';
import { useInstantBalance } from '../api/useApi.js';

/** What is shown: what flows now, what flowed in a minute of the past, or the energy of the period. */
export type FlowMode = { kind: 'now' } | { kind: 'instant'; t: number } | { kind: 'energy' };

export interface Flows {
  bar: Bar | null;
  picture: Picture | null;
  unit: 'W' | 'Wh';
  /** The minute that is shown, of an instant. */
  minute: { from: number; to: number } | null;
  loading: boolean;
}

/** Sources and uses below a place, by the mode chosen. */
export function useFlows(
  nodes: readonly InstallationNode[],
  rootId: number,
  mode: FlowMode,
  period: PeriodBalance | undefined,
): Flows {
  const live = useLiveValues(nodes, mode.kind === 'now', period);
  const { data: instant } = useInstantBalance(mode.kind === 'instant' ? mode.t : null);
  const values = useMemo((): BalanceValues | null => {
    if (mode.kind === 'now') return live;
    const places = mode.kind === 'instant' ? instant?.places : period?.places;
    return places ? new Map(places.map(({ nodeId, amount }) => [nodeId, amount])) : null;
  }, [mode.kind, live, instant, period]);
  return useMemo(() => {
    const bar = values && balanceOf(nodes, values, rootId);
    const feedsIn = (id: number) => nodes.find((n) => n.id === id)?.feedsIn === true;
    const isStorage = (id: number) => nodes.find((n) => n.id === id)?.purposeShown === 'storage';
    return {
      bar,
      picture: bar && pictureOf(bar, { isOpened: feedsIn, isSource: feedsIn, isStorage }),
      unit: mode.kind === 'energy' ? 'Wh' : 'W',
      minute: mode.kind === 'instant' && instant ? { from: instant.from, to: instant.to } : null,
      loading: values === null,
    };
  }, [nodes, rootId, values, mode.kind, instant]);
}

const NOTHING: number[][] = [];

/** What flows now at each metered place, as far as it is known. */
function useLiveValues(
  nodes: readonly InstallationNode[],
  on: boolean,
  period: PeriodBalance | undefined,
): ReadonlyMap<number, Amount | null> {
  const metered = useMemo(() => nodes.filter((n) => n.powerPointIds.length > 0), [nodes]);
  const groups = useMemo(() => (on ? metered.map((n) => n.powerPointIds) : NOTHING), [metered, on]);
  const sums = useSumOfEach(groups);
  const limits = useMemo(
    () => new Map(period?.places.map((p) => [p.nodeId, p.limit.relative]) ?? []),
    [period],
  );
  return useMemo(
    () =>
      new Map(
        metered.map(({ id }, i) => {
          const watts = sums[i] ?? null;
          return [id, watts === null ? null : ofPower(watts, Math.abs(watts) * (limits.get(id) ?? 0))];
        }),
      ),
    [metered, sums, limits],
  );
}
