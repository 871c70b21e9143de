import type { ChangedTopic, LiveReading } from '@loka/contract/readings';

/** What the live stream brings, as one tab is told it. */
export type LiveMessage =
  | { type: 'up'; up: boolean }
  | { type: 'readings'; data: LiveReading[] }
  | { type: 'changed'; data: ChangedTopic[] }
  | { type: 'beat'; data: { now: number } };

/** Opens a stream from the server. @returns how to close it */
export function openSource(tell: (message: LiveMessage) => void): () => void {
  const source = new EventSource('/api/live');
  source.onopen = () => tell({ type: 'up', up: true });
  source.onerror = () => tell({ type: 'up', up: false });
  for (const type of ['readings', 'changed', 'beat'] as const)
    source.addEventListener(type, (event) =>
      tell({ type, data: JSON.parse(event.data as string) } as LiveMessage),
    );
  return () => source.close();
}
