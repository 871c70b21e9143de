import type { InstallationNode } from '@loka/contract/installation';
import type { Point } from '@loka/contract/points';
import { estimatePower, type EstimatedPower } from '@loka/core/power';
import { useMemo } from 'react';
import { useReadings } from '../api/live.js';
import { usePoints, useSite } from '../api/useApi.js';
import { nearestPoint } from './nodes.js';

/** Power of a place of which only currents are measured. */
export interface EstimatedNow {
  currents: Point[];
  /** The nearest voltage of each of them; undefined where none is measured. */
  voltages: (Point | undefined)[];
  /** Null while a current has no reading. */
  estimate: EstimatedPower | null;
}

const NONE: Point[] = [];

/** What a way with clamps alone takes, by the nearest voltage; null where its power is measured, or nothing of it is. */
export function useEstimatedPower(
  node: InstallationNode,
  nodes: readonly InstallationNode[],
): EstimatedNow | null {
  const site = useSite().data?.site ?? null;
  const { data: points = NONE } = usePoints();
  const { currents, voltages } = useMemo(() => {
    const own = node.currentPointIds.flatMap((id) => points.find((p) => p.id === id) ?? []);
    const line = node.phases.split(' ')[0] ?? 'L1';
    return {
      currents: own,
      voltages: own.map((c) => nearestPoint(nodes, points, { ...node, phases: c.phase ?? line }, 'voltage')),
    };
  }, [node, nodes, points]);
  const amperes = useReadings(currents.map((p) => p.id));
  const volts = useReadings(voltages.map((p) => p?.id ?? -1));
  if (node.powerPointIds.length > 0 || currents.length === 0 || !site) return null;
  const known = amperes.map((r) => r?.v ?? null);
  return {
    currents,
    voltages,
    estimate: known.some((a) => a === null)
      ? null
      : estimatePower(
          known.map((a, i) => ({ amperes: Math.abs(a as number), volts: volts[i]?.v ?? null })),
          {
            nominal: site.nominalVoltage,
            powerFactor: node.powerFactor ?? null,
            system: site.supplySystem,
          },
        ),
  };
}
