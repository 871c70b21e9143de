import { newMessage } from '@loka/core/messages';
import { knownPoint } from '../../../test/support/knownPoint.js';
import { ToldSettings } from './toldSettings.js';

const setting = (id: number, deviceId: number, pointer: string) =>
  knownPoint(
    id,
    deviceId,
    newMessage({
      key: `setting-${id}`,
      topic: '{device}/settings',
      access: 'setting',
      setting: 'other',
      pointer,
    }),
    { topic: `plug-${deviceId}` },
  );
const POINTS = [setting(1, 1, '/every'), setting(2, 2, '/every')];

let changes: number[];
let told: ToldSettings;
beforeEach(() => {
  changes = [];
  told = new ToldSettings(POINTS, (pointId) => changes.push(pointId));
});
const goesOnWith = (points: typeof POINTS, changed: number[]) => {
  told = new ToldSettings(points, (pointId) => changes.push(pointId), { told, changed: new Set(changed) });
};

it('a change is told once, and another word for the same is none', () => {
  expect(told.take('plug-1/settings', '{"every":2}', 1000)).toBe(true);
  told.take('plug-1/settings', '{"every":2.0}', 2000);
  expect(changes).toEqual([1]);
  expect(told.of(1)).toEqual({ at: 2000, value: 2 });
  told.take('plug-1/settings', '{"other":2}', 3000);
  expect(changes).toEqual([1, 1]);
  expect(told.of(1)).toMatchObject({ at: 3000, fault: expect.any(String) });
  expect(told.take('plug-3/settings', '{"every":2}', 3000)).toBe(false);
});
it('when another device comes, what was told is still known, and is not told as a change', () => {
  told.take('plug-1/settings', '{"every":2}', 1000);
  goesOnWith([...POINTS, setting(3, 3, '/every')], [3]);
  expect([...told.newTopics]).toEqual(['plug-3/settings']);
  expect(told.of(1)).toEqual({ at: 1000, value: 2 });
  told.take('plug-1/settings', '{"every":2}', 2000);
  expect(changes).toEqual([1]);
});
it('whoever waits for a word hears it also when another device has come meanwhile', async () => {
  const word = told.next(1, 60_000, (t) => 'value' in t && t.value === 5);
  goesOnWith([...POINTS, setting(3, 3, '/every')], [3]);
  told.take('plug-1/settings', '{"every":5}', 1000);
  expect(await word).toEqual({ at: 1000, value: 5 });
});
it('of a device that was changed nothing is known until it says something', () => {
  told.take('plug-1/settings', '{"every":2,"wait":7}', 1000);
  told.take('plug-2/settings', '{"every":3}', 1000);
  goesOnWith([setting(1, 1, '/wait'), setting(2, 2, '/every')], [1]);
  expect([...told.newTopics]).toEqual(['plug-1/settings']);
  expect(told.of(1)).toBeNull();
  expect(told.of(2)).toEqual({ at: 1000, value: 3 });
  told.take('plug-1/settings', '{"every":2,"wait":7}', 2000);
  expect(told.of(1)).toEqual({ at: 2000, value: 7 });
});
