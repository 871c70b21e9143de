import type { FoundDevice } from '@loka/contract/search';
import { mutate } from 'swr';
import { api } from '../api/client.js';

/** Stand for a map that is found by reading, one that is made on the spot, and what a device tells of itself. */
export const FIND_OUT = -2;
export const BY_SUNSPEC = -1;
export const NEW_MAP = 0;

/** Where a unit is: on a link that is there, or at an address. */
export type UnitPlace = { unit: number } & ({ linkId: number } | { host: string; port: number });

/** What answers at a unit. @throws ApiError where nobody does */
export const recognise = (place: UnitPlace) => api<FoundDevice>('/searches/recognise', 'POST', place);

/** The map that reads most plausibly there, or what the device tells of itself. @throws Error where none of the maps does */
export function bestMap({ unit, sunspec, maps }: FoundDevice): { mapId: number; words: string } {
  if (sunspec) return { mapId: BY_SUNSPEC, words: sunspec.words };
  const [best] = maps;
  if (!best)
    throw new Error(
      `Unit ${unit} answers, but none of the maps reads plausibly there. Choose one yourself, or make a new map.`,
    );
  return { mapId: best.id, words: `${best.name}, ${Math.round(best.plausibility * 100)} % plausible` };
}

/** An empty map for a device, to be filled in. */
export async function makeMap(device: string): Promise<number> {
  const { id } = await api<{ id: number }>('/register-maps', 'POST', {
    name: `${device}, map`,
    description: '',
    points: [],
    messages: [],
  });
  await mutate('/register-maps');
  return id;
}

/** Makes a device on a link: with a map, or by what it tells of itself. */
export async function makeDevice(
  mapId: number,
  on: { linkId: number; unit: number; name: string },
): Promise<number> {
  const { id } =
    mapId === BY_SUNSPEC
      ? await api<{ id: number }>('/devices/sunspec', 'POST', on)
      : await api<{ id: number }>('/devices', 'POST', { ...on, mapId });
  return id;
}
