import type { EnergyCalendar, EnergySource } from '@loka/contract/energy';

/** Energy part by part, Wh; null where nothing tells. */
export interface PlaceColumns {
  borders: number[];
  import: (number | null)[];
  export: (number | null)[];
  net: (number | null)[];
  coverage: number[];
  /** Where it comes from, of all that is in it. */
  sources: EnergySource[];
}

/** The sum of places, part by part. A part of which one of them is not known is not known; one that has told nothing at all is left out. */
export function sumOfPlaces({ borders, nodes }: EnergyCalendar, nodeIds: readonly number[]): PlaceColumns {
  const own = nodes.filter((n) => nodeIds.includes(n.nodeId));
  const parts = borders.slice(1);
  const sum = (of: 'import' | 'export' | 'net') =>
    parts.map((_, i) =>
      own.length === 0
        ? null
        : own.reduce<number | null>((total, n) => {
            if (total === null || n.net[i] === null) return null;
            return total + (n[of][i] ?? 0);
          }, 0),
    );
  return {
    borders,
    import: sum('import'),
    export: sum('export'),
    net: sum('net'),
    sources: [...new Set(own.map((n) => n.source))],
    coverage: parts.map((_, i) =>
      own.length === 0 ? 0 : Math.min(...own.map((n) => n.coverage[i] as number)),
    ),
  };
}

/** What is known of a column, added up; null where nothing is. @param before parts that begin before this instant alone */
export const totalKnown = (
  columns: PlaceColumns,
  of: 'import' | 'export' | 'net',
  before = Infinity,
): number | null =>
  columns[of].reduce<number | null>(
    (sum, v, i) => (v === null || (columns.borders[i] as number) >= before ? sum : (sum ?? 0) + v),
    null,
  );
