import type { Point } from '@loka/contract/points';
import { newPoint, type PointDefinition } from '@loka/core/registers';
import { newMessage, type MessageDefinition } from '@loka/core/messages';
import { LiveReadings } from '../../src/live/liveReadings.js';
import type { Loka } from './loka.js';

/** Whom these ask: a Loka in the test's own process, or one of its own. */
type Asked = Pick<Loka, 'ask'>;

/** A value in registers, with what a test does not care about filled in. */
export const register = (
  key: string,
  address: number,
  more: Partial<PointDefinition> = {},
): PointDefinition => newPoint({ key, address: String(address), intervalMs: 200, ...more });

/** A value in messages, likewise. */
export const message = (key: string, more: Partial<MessageDefinition> = {}): MessageDefinition =>
  newMessage({ key, pointer: `/${key}`, intervalMs: 60_000, ...more });

export const nameSite = (loka: Asked): Promise<unknown> =>
  loka.ask('/site', 'PUT', {
    name: 'Test site',
    timeZone: 'Europe/Lisbon',
    nominalVoltage: 230,
    frequency: 50,
    conductorScheme: 'iec-60445',
  });

/** A supply on one line, for what needs a place. */
export const makeSupply = async (loka: Asked): Promise<number> =>
  (
    await loka.ask<{ id: number }>('/installation', 'POST', {
      kind: 'supply',
      parentId: null,
      name: 'Supply',
      way: '',
      phases: 'L1',
      protectiveDevice: null,
      ratedCurrent: null,
    })
  ).id;

export const makeMap = async (
  loka: Asked,
  name: string,
  content: { points?: PointDefinition[]; messages?: MessageDefinition[]; availability?: object },
): Promise<number> =>
  (
    await loka.ask<{ id: number }>('/register-maps', 'POST', {
      name,
      description: '',
      points: [],
      messages: [],
      ...content,
    })
  ).id;

/** The newest reading of a point of a device. */
export function newest(loka: Loka, points: readonly Point[], deviceId: number, key: string) {
  const point = points.find((p) => p.deviceId === deviceId && p.key === key);
  return point ? loka.app.get(LiveReadings).get(point.id) : undefined;
}
