import type { DayKind } from '@loka/core/profile';
import { IsInt, IsString, Length } from 'class-validator';
import type { PlaceProfile } from './profile.js';
import type { Site } from './site.js';

/** What flowed at the place of a report over a period, Wh; null where nothing tells. */
export interface ReportFigures {
  from: number;
  to: number;
  taken: number | null;
  given: number | null;
  /** Share of the period for which it is known, 0–1. */
  coverage: number;
}

/** One of the things into which it went; each once. */
export interface ReportUse {
  key: string;
  nodeId: number;
  /** As it was called when the report was made. */
  name: string;
  /** What nobody meters at the place. */
  unmetered: boolean;
  /** Wh. */
  energy: number;
  /** Wh a day, of the time that is known; in the period before, and in that of the year before. Null where less than half was read. */
  perDay: number | null;
  before: number | null;
  lastYear: number | null;
  /** Share of the period that was read, 0–1. */
  coverage: number;
}

export interface ReportAlert {
  name: string;
  condition: string;
  raisedAt: number;
  returnedAt: number | null;
}

/** What the site, or a part of it, took over a period, and what stands out. Names and prices are those of the day on which it was made. */
export interface EnergyReport {
  nodeId: number;
  place: string;
  /** Where it hangs, from the supply down. */
  path: string[];
  site: Pick<Site, 'name' | 'timeZone' | 'currency' | 'price' | 'carbon' | 'closedDays' | 'holidays'>;
  /** As it is asked for: 2026-10. */
  period: string;
  from: number;
  /** Its end, or when it was made where that has not come. */
  to: number;
  madeAt: number;
  /** Whether the period was over. */
  ended: boolean;
  total: ReportFigures;
  /** The period before, and the same of the year before, as far as this one has come; null where nothing was read then. */
  before: ReportFigures | null;
  lastYear: ReportFigures | null;
  /** From most to least. Empty for what has no parts. */
  uses: ReportUse[];
  /** What was taken and given, day by day; null where nothing is known. */
  days: { start: number; end: number; taken: number | null; given: number | null; kind: DayKind }[];
  profile: PlaceProfile;
  /** The highest quarter-hour, and what took how much of it then, W. */
  peak: { at: number; watts: number; parts: { name: string; watts: number }[] } | null;
  /** What takes most, each with what it does. */
  loads: { nodeId: number; name: string; profile: PlaceProfile }[];
  alerts: ReportAlert[];
  /** Places that were read for less than nearly all of the time. */
  partly: { name: string; coverage: number }[];
}

/** A report that is kept as it was made. */
export interface KeptReport {
  id: number;
  nodeId: number;
  place: string;
  period: string;
  from: number;
  to: number;
  madeAt: number;
  /** Null where Loka made it by itself at the end of a month. */
  who: string | null;
}

export class KeepReportInput {
  @IsInt({ message: 'Choose a place.' })
  nodeId!: number;

  @IsString()
  @Length(1, 60, { message: 'Choose a period.' })
  period!: string;
}
