import { Building } from './building/building.js';
import { ClampNode } from './devices/clampNode.js';
import type { FieldDevice } from './devices/device.js';
import { RelayBoard } from './devices/relayBoard.js';
import { ThreePhaseMeter } from './devices/threePhaseMeter.js';

/** The loads behind the relays of the relay board, in the order of its coils. */
export const RELAY_LOADS = ['hot-water', 'espresso', 'bakery-lighting', 'mixer'];

/** How coarse the steps are while the building is run faster than time, ms. */
export const HISTORY_STEP = 30_000;

export interface Site {
  building: Building;
  devices: FieldDevice[];
  clampNode: ClampNode;
  relayBoard: RelayBoard;
}

/** The sample site's building and its devices, at the instant `since`. */
export function buildSite(seed: number, since: number): Site {
  const building = new Building(seed, since);
  const flowOf = (load: string) => () => building.flows.get(load) ?? building.supply;
  const energyOf = (name: string, base: number) => () => base + (building.energy.get(name) ?? 0);
  const frequency = () => building.frequency;
  const clampNode = new ClampNode(
    'clamp-node',
    [
      { line: 'L2', flow: flowOf('cold-room'), gain: 0.982, zero: 0.03 },
      { line: 'L1', flow: flowOf('hot-water'), gain: 0.951, zero: 0.048 },
      { line: 'L3', flow: flowOf('espresso'), gain: 0.949, zero: 0.042 },
      { line: 'L1', flow: flowOf('bakery-lighting'), gain: 1.021, zero: 0.012 },
    ],
    () => building.t,
    seed,
  );
  const relayBoard = new RelayBoard('relay-board', building, RELAY_LOADS);
  const devices: FieldDevice[] = [
    new ThreePhaseMeter('main-meter', {
      flow: () => building.supply,
      frequency,
      energy: energyOf('supply', 48_211_000),
    }),
    new ThreePhaseMeter('oven-meter', {
      flow: flowOf('deck-oven'),
      frequency,
      energy: energyOf('deck-oven', 21_874_000),
    }),
    clampNode,
    relayBoard,
  ];
  // One short step, so that every flow exists from the start.
  building.advance(since + 100, 100);
  return { building, devices, clampNode, relayBoard };
}
