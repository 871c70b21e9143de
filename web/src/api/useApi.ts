import type { TrialRead } from '@loka/contract/acquisition';
import type { PointDefinition } from '@loka/core/registers';
import type { CircuitRecord, SiteRecord } from '@loka/contract/record';
import type { Instrument } from '@loka/contract/instruments';
import type { OutputTrial } from '@loka/contract/outputs';
import type { Fitting } from '@loka/contract/fittings';
import type { Dependent } from '@loka/contract/dependents';
import type { DeviceSettingsRead } from '@loka/contract/settings';
import type { Alert, AlertRule } from '@loka/contract/alerts';
import type { Calibration, CorrectionInForce, DriftSeen, DueSeen } from '@loka/contract/calibration';
import type { CutOffRule, LoadDraw, Switch, SwitchOperation } from '@loka/contract/control';
import type { Device, FormerDevice } from '@loka/contract/devices';
import type { CounterRulesSeen, Doubt, Exchange } from '@loka/contract/doubts';
import type { Dashboard, DashboardVersion } from '@loka/contract/dashboards';
import type { Picture } from '@loka/contract/pictures';
import type { PlacesBackup } from '@loka/contract/backup';
import type {
  PlaceDuration,
  PlacePhases,
  PlaceProfile,
  PlaceSteps,
  PlaceVoltage,
  PlaceWeather,
} from '@loka/contract/profile';
import type { Plan } from '@loka/contract/plans';
import type { EnergyReport, KeptReport } from '@loka/contract/report';
import type { Link } from '@loka/contract/links';
import type { FormerPoint, Point } from '@loka/contract/points';
import type { EnergyCalendar, NodeEnergy, Sparkline } from '@loka/contract/energy';
import type { FastLook, FastLooksSeen } from '@loka/contract/fastLook';
import type { Happening } from '@loka/contract/happenings';
import type { RunningSeen, RunningTotal } from '@loka/contract/totals';
import type { AuditEntry, HealthReport } from '@loka/contract/health';
import type { InstallationNode } from '@loka/contract/installation';
import type { InstantBalance, PeriodBalance } from '@loka/contract/balance';
import type { Job, Series } from '@loka/contract/readings';
import type { TopicsSeen } from '@loka/contract/messages';
import type { MapVersion, RegisterMap } from '@loka/contract/registers';
import type { Search } from '@loka/contract/search';
import type { SensingVersion } from '@loka/contract/sensing';
import type { Site, ZoneChange } from '@loka/contract/site';
import type { StepTest, Verification } from '@loka/contract/verify';
import type { VirtualMeter } from '@loka/contract/virtual';
import type { PlaceWhatIf, WhatIfInput } from '@loka/contract/whatIf';
import type { CalendarStep } from '@loka/core/time';
import useSWR, { type SWRConfiguration } from 'swr';
import { api, isRefused } from './client.js';
import { keyOf, pathOf, useHeld } from './forget.js';

function useApi<T>(path: string | null, options?: SWRConfiguration<T>) {
  useHeld(path);
  return useSWR<T, Error>(path === null ? null : keyOf(path), (key: string) => api<T>(pathOf(key)), options);
}

/** Before 1970 nothing was read; what lies wholly before is asked for as its first millisecond. */
const span = (from: number, to: number): string =>
  `from=${Math.max(0, Math.round(from))}&to=${Math.max(1, Math.round(to))}`;

// One hook a list; they are asked again when the live stream says that the list has changed.
/** Who has changed what, the newest first. */
export const useAudit = () => useApi<AuditEntry[]>('/audit', { refreshInterval: 10_000 });
export const useSite = () => useApi<{ site: Site | null; zoneChanges: ZoneChange[] }>('/site');
export const useInstallation = () => useApi<InstallationNode[]>('/installation', { refreshInterval: 10_000 });
export const useLinks = () => useApi<Link[]>('/links', { refreshInterval: 10_000 });
export const useDevices = () => useApi<Device[]>('/devices', { refreshInterval: 10_000 });
/** Devices that were removed; the same unit may go on with what was read of it. */
export const useFormerDevices = () => useApi<FormerDevice[]>('/devices/former');
/** What was read at a place by devices that were removed. */
export const useFormerPoints = (nodeId: number) => useApi<FormerPoint[]>(`/points/former?node=${nodeId}`);
export const usePoints = () => useApi<Point[]>('/points');
export const useRegisterMaps = () => useApi<RegisterMap[]>('/register-maps');
export const useMapVersions = (mapId: number | null) =>
  useApi<MapVersion[]>(mapId === null ? null : `/register-maps/${mapId}/versions`);
export const useVirtualMeters = () => useApi<VirtualMeter[]>('/virtual-meters');
/** What is being published; asked for every second as long as somebody looks. */
export const useTopics = (linkId: number | null) =>
  useApi<TopicsSeen>(linkId === null ? null : `/links/${linkId}/topics`, {
    refreshInterval: 1000,
    keepPreviousData: true,
  });
export const useLastSearch = () =>
  useApi<{ search: Search | null; networks: string[] }>('/searches/last', { refreshInterval: 5000 });
/** How Loka itself fares. */
export const useHealth = () => useApi<HealthReport>('/health', { refreshInterval: 5000 });
export const useAlerts = () => useApi<Alert[]>('/alerts');
export const useAlertHistory = () => useApi<Alert[]>('/alerts/history');
export const useAlertRules = () => useApi<AlertRule[]>('/alert-rules');
/** The agreement of a switch ages with time, so it is asked for a little more often. */
export const useSwitches = () => useApi<Switch[]>('/switches', { refreshInterval: 2000 });
export const useOperations = () => useApi<SwitchOperation[]>('/switches/operations');
export const useLoadDraw = (pointId: number | null | undefined) =>
  useApi<LoadDraw>(pointId ? `/points/${pointId}/draw` : null);
export const useCutOffRules = () => useApi<CutOffRule[]>('/cut-off-rules', { refreshInterval: 2000 });
export const useJobs = () => useApi<Job[]>('/jobs');
export const useCalibrations = (pointId: number | null) =>
  useApi<Calibration[]>(pointId === null ? null : `/calibrations?point=${pointId}`);
export const useEnergy = (from: number, to: number) =>
  useApi<NodeEnergy[]>(`/energy?${span(from, to)}`, { refreshInterval: 15_000, keepPreviousData: true });
/** Energy of one place. */
export const useEnergyOf = (node: number, from: number, to: number) =>
  useApi<NodeEnergy[]>(to > from ? `/energy?${span(from, to)}&node=${node}` : null, {
    refreshInterval: 15_000,
    keepPreviousData: true,
  });
/** Energy by parts of the calendar, of one place or of all. */
export const useEnergyCalendar = (from: number, to: number, step: CalendarStep, node?: number) =>
  useApi<EnergyCalendar>(
    to > from
      ? `/energy/calendar?${span(from, to)}&step=${step}${node === undefined ? '' : `&node=${node}`}`
      : null,
    { keepPreviousData: true, refreshInterval: 60_000 },
  );
/** What happened at a place. */
export const useHappenings = (node: number, from: number, to: number) =>
  useApi<Happening[]>(`/happenings?node=${node}&${span(from, to)}`, {
    keepPreviousData: true,
    refreshInterval: 60_000,
  });
export const useTotals = (node: number) =>
  useApi<RunningTotal[]>(`/totals?node=${node}`, { refreshInterval: 60_000 });
export const useRunning = (node: number, from: number, to: number) =>
  useApi<{ running: RunningSeen | null }>(
    to > from ? `/totals/running?node=${node}&${span(from, to)}` : null,
    { keepPreviousData: true, refreshInterval: 60_000 },
  );
/** Fast looks at a place; while one is under way, followed closely. */
export const useFastLooks = (node: number) =>
  useApi<FastLooksSeen>(`/fast-looks?node=${node}`, {
    refreshInterval: (seen) => (seen?.running ? 500 : 0),
  });
export const useFastLook = (id: number | null) => useApi<FastLook>(id === null ? null : `/fast-looks/${id}`);
/** What is found of a period: it stays until the next is there, and what was refused is not asked for again by itself. */
const FOUND: SWRConfiguration = {
  keepPreviousData: true,
  revalidateOnFocus: false,
  shouldRetryOnError: (error: unknown) => !isRefused(error),
};
/** What a place does over a period. */
export const useProfile = (node: number | null, from: number, to: number) =>
  useApi<PlaceProfile>(node === null || to <= from ? null : `/profile/${node}?${span(from, to)}`, FOUND);
/** What several places do; of one that nothing measures, why not. */
export const useProfiles = (nodes: readonly number[], from: number, to: number) =>
  useSWR<{ nodeId: number; profile: PlaceProfile | null; fault: Error | null }[], Error>(
    nodes.length === 0 || to <= from ? null : [`/profile`, nodes.join(), from, to],
    () =>
      Promise.all(
        nodes.map(async (nodeId) => {
          try {
            const profile = await api<PlaceProfile>(`/profile/${nodeId}?${span(from, to)}`);
            return { nodeId, profile, fault: null };
          } catch (fault) {
            if (!isRefused(fault)) throw fault;
            return { nodeId, profile: null, fault };
          }
        }),
      ),
    FOUND,
  );
/** Whether a source carries places; by the address of the question. */
export const useBackup = (address: string) => useApi<PlacesBackup>(address, FOUND);
/** What would be if a place did something else; null where nothing is asked. */
export const useWhatIf = (node: number, input: WhatIfInput | null) =>
  useSWR<PlaceWhatIf, Error>(
    input === null ? null : [`/profile/${node}/what-if`, input],
    ([path, body]: [string, WhatIfInput]) => api<PlaceWhatIf>(path, 'POST', body),
    FOUND,
  );
/** What a place took over a period, as it is known now. */
export const useReport = (node: number | null, period: string) =>
  useApi<EnergyReport>(
    node === null ? null : `/reports/now?node=${node}&period=${encodeURIComponent(period)}`,
    FOUND,
  );
/** Reports that are kept, and one of them. */
export const useKeptReports = () => useApi<KeptReport[]>('/reports');
export const useKeptReport = (id: number) => useApi<EnergyReport>(`/reports/${id}`, FOUND);
/** How the voltages of a place keep to their band. */
export const useVoltage = (node: number, from: number, to: number) =>
  useApi<PlaceVoltage>(to <= from ? null : `/profile/${node}/voltage?${span(from, to)}`, FOUND);
/** For how much of the time a place takes how much. */
export const useDuration = (node: number, from: number, to: number) =>
  useApi<PlaceDuration>(to <= from ? null : `/profile/${node}/duration?${span(from, to)}`, FOUND);
/** What was probably on behind a place that has no meter of its own. */
export const useSteps = (node: number, from: number, to: number) =>
  useApi<PlaceSteps>(to <= from ? null : `/profile/${node}/steps?${span(from, to)}`, FOUND);
/** How what a place takes a day hangs on the temperature outside; nothing is asked of null. */
export const useWeather = (node: number | null, from: number, to: number) =>
  useApi<PlaceWeather>(
    node === null || to <= from ? null : `/profile/${node}/weather?${span(from, to)}`,
    FOUND,
  );
/** How the lines of a place are loaded. */
export const usePhases = (node: number, from: number, to: number) =>
  useApi<PlacePhases>(to <= from ? null : `/profile/${node}/phases?${span(from, to)}`, FOUND);
/** The words of a value's registers as they are now, read again every two seconds while they are looked at. */
export const useWords = (device: Pick<Device, 'linkId' | 'unit'> | null, definition: PointDefinition) =>
  useSWR<TrialRead | undefined, Error>(
    device === null ? null : ['/devices/trial-read', device.linkId, device.unit, definition.key],
    async () => {
      const { linkId, unit } = device as Pick<Device, 'linkId' | 'unit'>;
      const points = [definition];
      return (await api<TrialRead[]>('/devices/trial-read', 'POST', { linkId, unit, points }))[0];
    },
    { refreshInterval: 2000, shouldRetryOnError: false },
  );
/** Floor plans. */
export const usePlans = () => useApi<Plan[]>('/plans');
/** Uploaded pictures. */
export const usePictures = () => useApi<Picture[]>('/pictures');
/** Pages that people have made. */
export const useDashboards = () => useApi<Dashboard[]>('/dashboards');
export const useDashboardVersions = (id: number | null) =>
  useApi<DashboardVersion[]>(id === null ? null : `/dashboards/${id}/versions`);
/** Sources and uses over a period, and in the minute around an instant. */
export const useBalance = (from: number, to: number, step: CalendarStep) =>
  useApi<PeriodBalance>(to > from ? `/balance?${span(from, to)}&step=${step}` : null, {
    refreshInterval: 30_000,
    keepPreviousData: true,
  });
export const useInstantBalance = (t: number | null) =>
  useApi<InstantBalance>(t === null ? null : `/balance/at?t=${Math.round(t)}`, {
    keepPreviousData: true,
    revalidateOnFocus: false,
  });
/** What of some points did not count as it was read. */
export const useDoubts = (points: number[], from: number, to: number) =>
  useApi<Doubt[]>(points.length === 0 ? null : `/doubts?points=${points.join(',')}&${span(from, to)}`, {
    keepPreviousData: true,
  });
export const useExchanges = (pointId: number | null) =>
  useApi<Exchange[]>(pointId === null ? null : `/points/${pointId}/exchanges`);
export const useCounterRules = (pointId: number | null) =>
  useApi<CounterRulesSeen>(pointId === null ? null : `/points/${pointId}/counter`);
export const useSensing = (pointId: number | null) =>
  useApi<SensingVersion[]>(pointId === null ? null : `/sensing?point=${pointId}`);
/** What would no longer work without a device. */
export const useDependents = (deviceId: number) => useApi<Dependent[]>(`/devices/${deviceId}/dependents`);
/** What was fitted at a place, and when. */
export const useFittings = (nodeId: number) => useApi<Fitting[]>(`/fittings?node=${nodeId}`);
/** What is known of a circuit, and of the whole site, to be handed over. */
export const useCircuitRecord = (nodeId: number) => useApi<CircuitRecord>(`/records/circuits/${nodeId}`);
export const useSiteRecord = () => useApi<SiteRecord>('/records/site');
export const useInstruments = () => useApi<Instrument[]>('/instruments');
/** What corrects a point now. */
export const useHolding = (pointId: number) =>
  useApi<{ correction: CorrectionInForce | null }>(`/calibrations/holding?point=${pointId}`);
/** By when points are to be calibrated again. */
export const useDue = () => useApi<DueSeen[]>('/calibrations/due');
/** Calibrated points that drift from their neighbours. */
export const useDrifts = () => useApi<DriftSeen[]>('/calibrations/drifts');
/** Points of like devices, which could take over what was found of one. */
export const useAlike = (pointId: number) => useApi<number[]>(`/calibrations/alike?point=${pointId}`);
/** The last trial of each output. */
export const useOutputs = () => useApi<OutputTrial[]>('/outputs');
export const useSettings = (deviceId: number) => useApi<DeviceSettingsRead>(`/settings/${deviceId}`);
/** How a place is wired, looked at again every other second. */
export const useVerification = (nodeId: number) =>
  useApi<Verification>(`/verifications/${nodeId}`, { refreshInterval: 2000, keepPreviousData: true });
/** Step tests of a place that have ended, newest first. */
export const useStepTests = (nodeId: number) => useApi<StepTest[]>(`/verifications/${nodeId}/step-tests`);
export const useSparklines = (from: number, to: number) =>
  useApi<Sparkline[]>(`/energy/sparklines?${span(from, to)}`, {
    refreshInterval: 120_000,
    keepPreviousData: true,
  });
export const useSeries = (
  points: number[],
  from: number,
  to: number,
  how: { width: number } | { block: number },
  refreshInterval = 0,
) =>
  useApi<Series[]>(
    points.length === 0
      ? null
      : `/readings?points=${points.join(',')}&${span(from, to)}&${'width' in how ? `width=${how.width}` : `block=${how.block}`}`,
    { keepPreviousData: true, revalidateOnFocus: false, refreshInterval },
  );
