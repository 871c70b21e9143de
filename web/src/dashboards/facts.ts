import type { Switch } from '@loka/contract/control';
import type { InstallationNode } from '@loka/contract/installation';
import type { Picture } from '@loka/contract/pictures';
import type { Plan } from '@loka/contract/plans';
import type { Point } from '@loka/contract/points';
import type { Site } from '@loka/contract/site';
import { readyDashboards, type ReadyDashboard } from '@loka/core/dashboards';
import { isReadable } from '@loka/core/points';
import { createContext, useContext, useMemo } from 'react';
import { useInstallation, usePictures, usePlans, usePoints, useSite, useSwitches } from '../api/useApi.js';

/** What there is on the site to be shown. */
export interface Facts {
  nodes: InstallationNode[];
  points: Point[];
  switches: Switch[];
  plans: Plan[];
  pictures: Picture[];
  site: Site | null;
  zone: string;
}

const NOTHING: Facts = {
  nodes: [],
  points: [],
  switches: [],
  plans: [],
  pictures: [],
  site: null,
  zone: 'UTC',
};
const Context = createContext<Facts>(NOTHING);
export const FactsProvider = Context.Provider;
export const useFacts = (): Facts => useContext(Context);

/** The same until one of the lists is another; null before all of them are there. */
export function useLoadedFacts(): Facts | null {
  const { data: nodes } = useInstallation();
  const { data: points } = usePoints();
  const { data: switches } = useSwitches();
  const { data: plans } = usePlans();
  const { data: pictures } = usePictures();
  const { data: site } = useSite();
  return useMemo(
    () =>
      nodes && points && switches && plans && pictures && site
        ? { nodes, points, switches, plans, pictures, site: site.site, zone: site.site?.timeZone ?? 'UTC' }
        : null,
    [nodes, points, switches, plans, pictures, site],
  );
}

/** The dashboards that are there without anybody having made them. */
export function readyOf({ nodes, points, switches }: Facts): ReadyDashboard[] {
  return readyDashboards({
    nodes: nodes.map((n) => ({ ...n, isStorage: n.purposeShown === 'storage' })),
    points: points
      .filter((p) => isReadable(p.definition))
      .map((p) => ({ id: p.id, nodeId: p.nodeId, quantity: p.definition.quantity, phase: p.phase })),
    switches,
  });
}
