import type { Point } from '@loka/contract/points';
import { useCallback } from 'react';
import { useInstallation } from '../api/useApi.js';
import { placedTitle } from './nodes.js';

const NONE: [] = [];

/** What to call a point wherever one is chosen or named: by its circuit. */
export function usePointTitle(): (point: Point) => string {
  const { data: nodes = NONE } = useInstallation();
  return useCallback((point: Point) => placedTitle(nodes, point), [nodes]);
}
