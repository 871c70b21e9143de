import {
  exportText,
  importText,
  type DashboardContent,
  type ExchangeFacts,
  type Imported,
} from '@loka/core/dashboards';
import type { Facts } from './facts.js';

const namesOf = ({ nodes, points, switches, plans, pictures }: Facts): ExchangeFacts => ({
  nodes,
  switches,
  plans,
  pictures,
  points: points.map((p) => ({
    id: p.id,
    nodeId: p.nodeId,
    key: p.key,
    quantity: p.definition.quantity,
    phase: p.phase,
    deviceName: p.deviceName,
  })),
});

/** Hands a dashboard out as a file that another Loka can take. */
export function download(name: string, content: DashboardContent, facts: Facts): void {
  const url = URL.createObjectURL(
    new Blob([exportText(name, content, namesOf(facts))], { type: 'application/json' }),
  );
  const link = document.createElement('a');
  link.href = url;
  link.download = `${name.replace(/[^\p{L}\p{N}]+/gu, '-').replace(/^-|-$/g, '') || 'dashboard'}.json`;
  link.click();
  URL.revokeObjectURL(url);
}

/** What a file says, for this installation. */
export const taken = (text: string, facts: Facts): Imported => importText(text, namesOf(facts));
