import type { Amount, SelfUse, StorageUse, Use } from '@loka/core/balance';
import type { EnergySource } from './energy.js';

/** Within how much a place's meter is taken to be right, and why. */
export interface PlaceLimit {
  /** Of what it reads, 95 %. */
  relative: number;
  /** In words: "calibrated", "class 1", "not calibrated". */
  why: string;
}

/** What flowed at a metered place. */
export interface PlaceFlow {
  nodeId: number;
  /** Null where its meter says nothing about the period. */
  amount: Amount | null;
  limit: PlaceLimit;
}

/** Where the energy of a period went, by parts of the site's calendar. Part i lies between borders i and i + 1. */
export interface PeriodBalance {
  borders: number[];
  places: (PlaceFlow & { source: EnergySource | null })[];
  /** Every use once, part by part, Wh; null where nothing is known of the part. */
  uses: (Omit<Use, 'value'> & { values: (number | null)[] })[];
  /** Part by part, whether everything metered had a value all the time. */
  certain: boolean[];
  /** What came in and was generated, the same way. */
  given: { nodeId: number; values: (number | null)[] }[];
  /** Null where nothing on the site generates. */
  selfUse: SelfUse | null;
  storages: (StorageUse & { nodeId: number; capacity: number | null; held: [number, number] | null })[];
  /** The first reading that there is, UTC ms; null without any. */
  firstAt: number | null;
}

/** Mean power of the metered places in the minute around an instant, W. */
export interface InstantBalance {
  from: number;
  to: number;
  places: PlaceFlow[];
}
