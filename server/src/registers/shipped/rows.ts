import type { Phase } from '@loka/core/quantities';
import { newPoint, type PointDefinition } from '@loka/core/registers';
import { type Scaling } from '@loka/core/points';
import type { MapContent } from '../../book/registerMap.entity.js';

/** A map as it is shipped: the name and what it describes. */
export type ShippedMap = Partial<MapContent> & Pick<MapContent, 'name' | 'description'>;

export const factor = (f: number): Scaling => ({ kind: 'factor', factor: f, offset: 0 });

export const LINES = ['L1', 'L2', 'L3'] as const satisfies Phase[];

export type Row = Partial<PointDefinition> &
  Pick<PointDefinition, 'key' | 'name' | 'quantity' | 'unit' | 'address' | 'type'>;

/** Values in input registers unless they say otherwise; `common` holds for all of them. */
export const rows = (common: Partial<PointDefinition>, list: Row[]): PointDefinition[] =>
  list.map((row) => newPoint({ kind: 'input', ...common, ...row }));
