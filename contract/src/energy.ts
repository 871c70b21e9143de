/** Where the energy of a place comes from: what its meter has counted, or its power over time. */
export type EnergySource = 'counter' | 'power';

/** Energy over a period, Wh. Import, export and net are three things; null where nothing tells. */
export interface EnergyFigures {
  import: number | null;
  export: number | null;
  /** Import less export. */
  net: number | null;
  /** Share of the period for which it is known, 0–1. */
  coverage: number;
  /** Part of it that is spread over time, or counted, by estimate. */
  estimated: number;
}

/** Energy of a place over a period, and what its other source says of the same. */
export interface NodeEnergy extends EnergyFigures {
  nodeId: number;
  source: EnergySource | null;
  other: (EnergyFigures & { source: EnergySource }) | null;
  /** Since when within the period its wiring has been known to be wrong, UTC ms; null where nothing speaks against it. */
  uncertainSince: number | null;
}

/** Energy of every place by parts of the site's calendar. Part i lies between borders i and i + 1. */
export interface EnergyCalendar {
  borders: number[];
  nodes: {
    nodeId: number;
    source: EnergySource;
    import: (number | null)[];
    export: (number | null)[];
    net: (number | null)[];
    coverage: number[];
    estimated: number[];
  }[];
}

/** A line of means for a small drawing; null where nothing is known. */
export interface Sparkline {
  nodeId: number;
  values: (number | null)[];
}
