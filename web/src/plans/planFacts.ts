import type { Switch } from '@loka/contract/control';
import type { Device } from '@loka/contract/devices';
import type { InstallationNode } from '@loka/contract/installation';
import type { Picture } from '@loka/contract/pictures';
import type { Site } from '@loka/contract/site';
import { useMemo } from 'react';
import { useDevices, useInstallation, usePictures, useSite, useSwitches } from '../api/useApi.js';
import { pathUp } from '../shared/nodes.js';

/** What marks stand for. */
export interface PlanFacts {
  nodes: InstallationNode[];
  devices: Device[];
  switches: Switch[];
  pictures: Picture[];
  site: Site | null;
}

/** Null before all of it is there. */
export function usePlanFacts(): PlanFacts | null {
  const { data: nodes } = useInstallation();
  const { data: devices } = useDevices();
  const { data: switches } = useSwitches();
  const { data: pictures } = usePictures();
  const { data: site } = useSite();
  return useMemo(
    () =>
      nodes && devices && switches && pictures && site
        ? { nodes, devices, switches, pictures, site: site.site }
        : null,
    [nodes, devices, switches, pictures, site],
  );
}

/** "BK 1": the mark of the board and the way on it, as on the schedule; else the name. */
export function wayOf(nodes: readonly InstallationNode[], node: InstallationNode): string {
  if (node.kind !== 'circuit' || !node.way) return node.kind === 'board' && node.way ? node.way : node.name;
  const board = pathUp(nodes, node.parentId).find((n) => n.kind === 'board');
  return `${board?.way ?? ''} ${node.way}`.trim();
}

/** Watts that the protective device of a place, or the nearest one above it, lets through; null where it is not known. */
export function ratedWatts({ nodes, site }: PlanFacts, node: InstallationNode): number | null {
  const lines = node.phases.split(' ').filter((p) => /^L[123]$/.test(p)).length || 1;
  const rated = pathUp(nodes, node.id).find((n) => n.ratedCurrent)?.ratedCurrent;
  return rated && site ? rated * site.nominalVoltage * lines : null;
}
