import type { Strip } from '@loka/core/balance';
import type { InstallationNode } from '@loka/contract/installation';
import type { FlowColours } from '../theme/flows.js';

/** The hatch of what nobody meters, by its name in the drawing. */
export const NOT_METERED_ID = 'not-metered';
const NOT_METERED = `url(#${NOT_METERED_ID})`;

/** How a strip is called. */
export function stripName(strip: Strip, node: InstallationNode | undefined): string {
  const name = node?.name ?? '';
  switch (strip.kind) {
    case 'feed':
      return node?.kind === 'supply' ? 'From the supply' : `Into ${name}`;
    case 'back':
      return node?.kind === 'supply' ? 'Back to the supply' : `Back from ${name}`;
    case 'gives':
      return node?.purposeShown === 'storage' ? `${name}, discharging` : name;
    case 'takes':
      return node?.purposeShown === 'storage' ? `${name}, charging` : name;
    case 'unmetered':
      return 'Not metered';
    case 'excess':
      return strip.contradicts ? 'Parts exceed the whole' : 'Meters apart';
  }
}

/** What is to be said about a strip besides its name; null where nothing is. */
export function stripNote(strip: Strip): string | null {
  if (strip.contradicts) return 'meters contradict';
  if (strip.kind === 'excess') return 'within their uncertainty';
  return strip.certain ? null : 'uncertain: not known all the time';
}

export interface StripLook {
  fill: string;
  stroke: string;
  dashed: boolean;
}

/** Filled where it gives, outlined where it goes back or charges, hatched where nobody meters, dashed where it is uncertain. */
export function stripLook(
  strip: Strip,
  node: InstallationNode | undefined,
  flows: FlowColours,
  ink: { ink2: string; danger: string },
): StripLook {
  const purpose = node?.purposeShown;
  const plain = (fill: string): StripLook => ({ fill, stroke: 'none', dashed: false });
  const look = ((): StripLook => {
    switch (strip.kind) {
      case 'feed':
        return plain(flows.supply);
      case 'back':
        return { fill: flows.supplyTaking, stroke: flows.supply, dashed: false };
      case 'gives':
        return plain(purpose === 'roof' ? flows.roof : purpose === 'storage' ? flows.storage : flows.supply);
      case 'takes':
        return purpose === 'storage'
          ? { fill: flows.storageTaking, stroke: flows.storage, dashed: false }
          : plain(flows.use);
      case 'unmetered':
        return { fill: NOT_METERED, stroke: ink.ink2, dashed: false };
      case 'excess':
        return {
          fill: NOT_METERED,
          stroke: strip.contradicts ? ink.danger : ink.ink2,
          dashed: false,
        };
    }
  })();
  if (strip.certain) return look;
  return strip.kind === 'unmetered' || strip.kind === 'excess'
    ? { ...look, dashed: true }
    : { fill: flows.uncertain, stroke: ink.ink2, dashed: true };
}
