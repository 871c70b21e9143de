import type { ChangedTopic, LiveReading } from '@loka/contract/readings';
import { useRef, useSyncExternalStore } from 'react';
import { mutate } from 'swr';
import { noteBeat } from './clock.js';
import { openSource, type LiveMessage } from './liveSource.js';

/** Which lists to ask for again when a topic has changed. */
const PATHS: Record<ChangedTopic, string[]> = {
  site: ['/site'],
  installation: ['/installation', '/balance'],
  links: ['/links'],
  devices: ['/devices', '/points'],
  'register-maps': ['/register-maps'],
  calibrations: ['/calibrations', '/sensing', '/records', '/happenings'],
  alerts: ['/alerts', '/happenings'],
  'alert-rules': ['/alert-rules'],
  switches: ['/switches', '/happenings'],
  'cut-off-rules': ['/cut-off-rules'],
  jobs: ['/jobs'],
  history: ['/readings', '/energy', '/balance', '/profile', '/totals', '/happenings'],
  doubts: ['/doubts', '/points', '/energy', '/balance'],
  'virtual-meters': ['/virtual-meters', '/points'],
  searches: ['/searches'],
  settings: ['/settings'],
  fittings: ['/fittings', '/records', '/happenings'],
  instruments: ['/instruments', '/records'],
  outputs: ['/outputs'],
  verifications: ['/verifications', '/records'],
  comments: ['/happenings'],
  totals: ['/totals'],
  'fast-looks': ['/fast-looks'],
  dashboards: ['/dashboards'],
  plans: ['/plans'],
  pictures: ['/pictures'],
  reports: ['/reports'],
};

const readings = new Map<number, LiveReading>();
const byPoint = new Map<number, Set<() => void>>();
const everything = new Set<(batch: LiveReading[]) => void>();
const connection = { up: true, listeners: new Set<() => void>() };

const askAgain = (paths: string[]) =>
  void mutate(
    (key) =>
      typeof key === 'string' &&
      paths.some((p) => key === p || key.startsWith(`${p}?`) || key.startsWith(`${p}/`)),
  );

function hear(message: LiveMessage): void {
  switch (message.type) {
    case 'up':
      return say(message.up);
    case 'readings':
      return take(message.data);
    case 'changed':
      return askAgain(message.data.flatMap((topic) => PATHS[topic]));
    case 'beat':
      return noteBeat(message.data.now);
  }
}

function say(up: boolean): void {
  if (connection.up === up) return;
  connection.up = up;
  for (const listener of connection.listeners) listener();
  if (up) void mutate(() => true);
}

/** Joins the stream that the tabs of this browser share. @returns how to leave it */
function joinShared(): () => void {
  const worker = new SharedWorker(new URL('./live.worker.ts', import.meta.url), {
    type: 'module',
    name: 'loka-live',
  });
  worker.port.onmessage = (event) => hear(event.data as LiveMessage);
  let close = () => {
    worker.port.postMessage('leaving');
    worker.port.close();
  };
  // It could not be loaded: the server was just being restarted, or the browser allows none here.
  worker.onerror = () => {
    close();
    close = openOwn();
  };
  return () => close();
}

/** A stream of its own, for browsers that share none between tabs (many phones); not held while nobody looks. */
function openOwn(): () => void {
  let close: (() => void) | null = null;
  const follow = () => {
    if (document.visibilityState === 'visible') close ??= openSource(hear);
    else {
      close?.();
      close = null;
    }
  };
  follow();
  document.addEventListener('visibilitychange', follow);
  return () => {
    document.removeEventListener('visibilitychange', follow);
    close?.();
  };
}

/**
 * Whether the page was left. Heard from the start: who goes on before the page is drawn would otherwise leave behind
 * one that joins the stream afterwards, and a page that is told something is not kept for the way back.
 */
let left = false;
window.addEventListener('pagehide', () => (left = true));
window.addEventListener('pageshow', (event) => {
  if (event.persisted) left = false;
});

/** Follows what is live as long as the page is there; one that the browser keeps aside lets go of it. @returns how to end it */
export function openLive(): () => void {
  const open = typeof SharedWorker === 'undefined' ? openOwn : joinShared;
  let close: (() => void) | null = left ? null : open();
  const onHide = () => {
    close?.();
    close = null;
  };
  const onShow = (event: PageTransitionEvent) => {
    if (!event.persisted) return;
    close ??= open();
    // What changed while it was kept aside was told to nobody here.
    void mutate(() => true);
  };
  window.addEventListener('pagehide', onHide);
  window.addEventListener('pageshow', onShow);
  return () => {
    window.removeEventListener('pagehide', onHide);
    window.removeEventListener('pageshow', onShow);
    onHide();
  };
}

function take(batch: LiveReading[]): void {
  for (const reading of batch) readings.set(reading.pointId, reading);
  for (const reading of batch) for (const listener of byPoint.get(reading.pointId) ?? []) listener();
  for (const listener of everything) listener(batch);
}

function subscribe(pointIds: readonly number[], listener: () => void): () => void {
  for (const id of pointIds) byPoint.set(id, (byPoint.get(id) ?? new Set()).add(listener));
  return () => {
    for (const id of pointIds) byPoint.get(id)?.delete(listener);
  };
}

const NONE = -1;

/** The newest reading of a point, kept current; undefined while there is none. */
export function useReading(pointId: number | undefined): LiveReading | undefined {
  const id = pointId ?? NONE;
  return useSyncExternalStore(
    (listener) => subscribe([id], listener),
    () => readings.get(id),
  );
}

/** The newest readings of several points, in their order. */
export function useReadings(pointIds: readonly number[]): (LiveReading | undefined)[] {
  const kept = useRef<(LiveReading | undefined)[]>([]);
  return useSyncExternalStore(
    (listener) => subscribe(pointIds, listener),
    () => {
      const now = pointIds.map((id) => readings.get(id));
      // The same list as long as nothing in it has changed, or React would render without end.
      const same = now.length === kept.current.length && now.every((r, i) => r === kept.current[i]);
      if (!same) kept.current = now;
      return kept.current;
    },
  );
}

/** The sum of the newest values of points; null when one of them has none or is bad. Cheap to redraw: one number. */
export function useSum(pointIds: readonly number[]): number | null {
  return useSyncExternalStore(
    (listener) => subscribe(pointIds, listener),
    () => sumOf(pointIds),
  );
}

/** The range of the sum of points where the nominal voltage stands in for a measured one; null where none does. */
export function useBetween(pointIds: readonly number[]): readonly [low: number, high: number] | null {
  const kept = useRef<readonly [number, number] | null>(null);
  return useSyncExternalStore(
    (listener) => subscribe(pointIds, listener),
    () => {
      const now = betweenOf(pointIds);
      const same = now?.[0] === kept.current?.[0] && now?.[1] === kept.current?.[1];
      if (!same) kept.current = now;
      return kept.current;
    },
  );
}

function betweenOf(pointIds: readonly number[]): [number, number] | null {
  const all = pointIds.map((id) => readings.get(id));
  if (!all.some((r) => r?.between)) return null;
  return [0, 1].map((end) => all.reduce((sum, r) => sum + (r?.between?.[end] ?? r?.v ?? 0), 0)) as [
    number,
    number,
  ];
}

/** Of several groups of points the sum of each, as {@link useSum}. */
export function useSumOfEach(groups: readonly (readonly number[])[]): (number | null)[] {
  const kept = useRef<(number | null)[]>([]);
  return useSyncExternalStore(
    (listener) => subscribe(groups.flat(), listener),
    () => {
      const now = groups.map(sumOf);
      const same = now.length === kept.current.length && now.every((v, i) => v === kept.current[i]);
      if (!same) kept.current = now;
      return kept.current;
    },
  );
}

/** The largest of the newest values. */
export function useLargest(pointIds: readonly number[]): number | null {
  return useSyncExternalStore(
    (listener) => subscribe(pointIds, listener),
    () => {
      const values = pointIds.map((id) => readings.get(id)?.v).filter((v) => v != null);
      return values.length === 0 ? null : Math.max(...values);
    },
  );
}

function sumOf(pointIds: readonly number[]): number | null {
  if (pointIds.length === 0) return null;
  let sum = 0;
  for (const id of pointIds) {
    const v = readings.get(id)?.v;
    if (v == null) return null;
    sum += v;
  }
  return sum;
}

/** Calls back with every batch of readings, for charts that go on live. */
export function onReadings(listener: (batch: LiveReading[]) => void): () => void {
  everything.add(listener);
  return () => everything.delete(listener);
}

/** Whether the live stream is up. */
export const useConnection = (): boolean =>
  useSyncExternalStore(
    (listener) => {
      connection.listeners.add(listener);
      return () => connection.listeners.delete(listener);
    },
    () => connection.up,
  );
