import { threePhaseMeter, singlePhaseMeter, swappedMeter, countsFromOne } from './shipped/meters.js';
import { clampNode, relayBoard, numberedValues } from './shipped/modules.js';
import { inverter, dcSensor } from './shipped/sources.js';
import { plugMeter, bareClamp, thermometer } from './shipped/messages.js';
import type { ShippedMap } from './shipped/rows.js';

/** Maps for the kinds of device that most sites have, under neutral names. */
export const SHIPPED_MAPS: ShippedMap[] = [
  threePhaseMeter(),
  clampNode(),
  relayBoard(),
  singlePhaseMeter(),
  swappedMeter(),
  countsFromOne(),
  numberedValues(),
  inverter(),
  dcSensor(),
  plugMeter(),
  bareClamp(),
  thermometer(),
];
