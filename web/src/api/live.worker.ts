import type { LiveReading } from '@loka/contract/readings';
import { openSource, type LiveMessage } from './liveSource.js';

// One stream for all tabs of a browser: it keeps six connections to a server at most, and each stream holds one.

const ports = new Set<MessagePort>();
/** The newest of each point, for a tab that comes later. */
const newest = new Map<number, LiveReading>();
let up: boolean | null = null;
/** The server's clock less this machine's. */
let ahead: number | null = null;
let close: (() => void) | null = null;

function tell(message: LiveMessage): void {
  if (message.type === 'up') up = message.up;
  if (message.type === 'readings') for (const r of message.data) newest.set(r.pointId, r);
  if (message.type === 'beat') ahead = message.data.now - Date.now();
  for (const port of ports) port.postMessage(message);
}

function leave(port: MessagePort): void {
  ports.delete(port);
  port.close();
  if (ports.size > 0) return;
  close?.();
  close = null;
  up = null;
  newest.clear();
}

(globalThis as unknown as { onconnect: (event: MessageEvent) => void }).onconnect = ({ ports: [port] }) => {
  if (!port) return;
  ports.add(port);
  // The only thing that a tab says: that it goes, or sleeps.
  port.onmessage = () => leave(port);
  if (up !== null) port.postMessage({ type: 'up', up } satisfies LiveMessage);
  if (ahead !== null)
    port.postMessage({ type: 'beat', data: { now: Date.now() + ahead } } satisfies LiveMessage);
  port.postMessage({ type: 'readings', data: [...newest.values()] } satisfies LiveMessage);
  close ??= openSource(tell);
};
