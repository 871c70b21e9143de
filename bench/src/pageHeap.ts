import type { CDPSession } from '@playwright/test';

/** One of the browser's own figures of a page. */
export const metric = async (cdp: CDPSession, name: string): Promise<number> =>
  (await cdp.send('Performance.getMetrics')).metrics.find((m) => m.name === name)?.value ?? NaN;

/** Of a snapshot only what is counted of it. */
interface Snapshot {
  snapshot: { meta: { node_fields: string[]; node_types: [string[], ...unknown[]] } };
  nodes: number[];
}

/** Bytes of what the page holds, MB: without the code that the browser compiles by and by, and its own records. */
export async function objects(cdp: CDPSession): Promise<number> {
  const parts: string[] = [];
  const take = ({ chunk }: { chunk: string }) => void parts.push(chunk);
  cdp.on('HeapProfiler.addHeapSnapshotChunk', take);
  await cdp.send('HeapProfiler.takeHeapSnapshot', { reportProgress: false });
  cdp.off('HeapProfiler.addHeapSnapshotChunk', take);
  const { snapshot, nodes } = JSON.parse(parts.join('')) as Snapshot;
  const { node_fields: fields, node_types: types } = snapshot.meta;
  const [type, size] = [fields.indexOf('type'), fields.indexOf('self_size')];
  const left = new Set(['code', 'native', 'hidden'].map((name) => types[0].indexOf(name)));
  let sum = 0;
  for (let i = 0; i < nodes.length; i += fields.length)
    if (!left.has(nodes[i + type] as number)) sum += nodes[i + size] as number;
  return sum / 1e6;
}
