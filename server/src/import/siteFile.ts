import { AlertRuleInput } from '@loka/contract/alerts';
import { CutOffRuleInput, SwitchInput } from '@loka/contract/control';
import { DeviceInput } from '@loka/contract/devices';
import { LinkInput } from '@loka/contract/links';
import type { InstrumentInput } from '@loka/contract/instruments';
import { NodeInput } from '@loka/contract/installation';
import { SiteInput } from '@loka/contract/site';
import type { DashboardElement, SourceKind } from '@loka/core/dashboards';
import type { Mark, PlanContent } from '@loka/core/plans';
import type { VirtualMeterInput } from '@loka/contract/virtual';
import { plainToInstance } from 'class-transformer';
import { validateSync } from 'class-validator';

/** A whole site in one file; things refer to one another by `ref`, points by "device ref/key". */
export interface SiteFile {
  /** `outdoor` names the point that measures the temperature outside. */
  site: Omit<SiteInput, 'outdoorPointId'> & { outdoor?: string };
  nodes: (Omit<NodeInput, 'parentId'> & { ref: string; parent: string | null })[];
  links: (LinkInput & { ref: string })[];
  /** `map` is the name of a register map that Loka has. */
  devices: (Omit<DeviceInput, 'linkId' | 'mapId'> & { ref: string; link: string; map: string })[];
  /** Which points belong where; a phase only where the map does not say it. */
  points: { point: string; node: string; phase?: string }[];
  virtualMeters?: (Omit<VirtualMeterInput, 'inputs' | 'nodeId'> & {
    node: string | null;
    inputs: { name: string; point: string }[];
  })[];
  switches: (Omit<SwitchInput, 'nodeId' | 'commandPointId' | 'statePointId'> & {
    ref: string;
    node: string;
    command: string;
    state: string;
  })[];
  cutOffRules: (Omit<CutOffRuleInput, 'switchId' | 'pointId'> & { switch: string; point: string })[];
  alertRules: (Omit<AlertRuleInput, 'pointId'> & { point: string })[];
  /** What a mark refers to is named, by its kind. */
  plans?: (Omit<PlanContent, 'marks'> & {
    ref: string;
    name: string;
    marks: (Omit<Mark, 'ref'> & { ref: string })[];
  })[];
  dashboards?: {
    name: string;
    /** `shows` names a node, a point, a switch or a plan, by what `of` says; `at` are column, row, width and height. */
    elements: (Pick<DashboardElement, 'id' | 'kind'> &
      Partial<Omit<DashboardElement, 'shows' | 'spot'>> & {
        shows: { of: SourceKind; ref: string }[];
        at: [number, number, number, number];
      })[];
    /** Order on the phone; those of half the width end in "½". */
    phone: string[];
    away: string[];
  }[];
  /** What people did while the recorded history was made; left out where there is none. */
  past?: PastFile;
}

export interface PastFile {
  instruments: (InstrumentInput & { ref: string })[];
  /**
   * Points that were calibrated on a day, at loads that the history has then. What the instrument said is what flowed: the reading
   * less what the device itself adds, by what it multiplies; to the instrument's digit, base unit.
   */
  calibrations: {
    point: string;
    withPower?: boolean;
    instrument: string;
    daysAgo: number;
    device: { gain: number; zero: number };
    digit: number;
    who: string;
  }[];
  /** Who saw the alerts, in turn. */
  seenBy: string[];
  /** Switches that are closed `before` and opened `after` the uses of a load: those are when a point reads above so much, base unit. */
  shifts: { switch: string; point: string; above: number; who: string; before: string; after: string }[];
}

/** Thrown when something in a site file does not hold; says which part. */
export class SiteFileError extends Error {
  override name = 'SiteFileError';
}

/** A member of a site file as the validated input that the services take. @throws SiteFileError */
export function checked<T extends object>(type: new () => T, value: object, what: string): T {
  const input = plainToInstance(type, value);
  const [fault] = validateSync(input, { whitelist: true });
  if (fault)
    throw new SiteFileError(
      `${what}: ${fault.property}: ${Object.values(fault.constraints ?? { inside: 'is not right' }).join(', ')}`,
    );
  return input;
}
