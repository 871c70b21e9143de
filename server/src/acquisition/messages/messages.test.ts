import { Aedes } from 'aedes';
import mqtt from 'mqtt';
import { createServer } from 'node:net';
import type { AddressInfo } from 'node:net';
import { LinkInput } from '@loka/contract/links';
import { QUALITY } from '@loka/core/series';
import { newMessage } from '@loka/core/messages';
import { AcquisitionHealth } from '../../devices/acquisitionHealth.js';
import { knownPoint } from '../../../test/support/knownPoint.js';
import type { LinkEntity } from '../../book/link.entity.js';
import { isToken, newToken } from '../../devices/linkToken.js';
import { ChangeFeed } from '../../live/changeFeed.js';
import { AllowedNetworks } from '../../security/allowedNetworks.js';
import type { RawReading } from '../runner.js';
import { MqttRunner } from './mqttRunner.js';
import { PushRunner } from './pushRunner.js';
import { MOST_TOPICS, TopicBook } from './topicBook.js';

const point = (id: number, topic: string, pointer = '') =>
  knownPoint(id, 1, newMessage({ key: `p${id}`, topic, pointer, intervalMs: 60_000 }), { topic: 'plug' });
const health = () => new AcquisitionHealth(new ChangeFeed());

/** A broker on loopback, and a runner of a link to it that is not started yet. */
async function startBroker(points: ReturnType<typeof point>[], stored: () => Promise<void>) {
  const broker = await Aedes.createBroker();
  const server = createServer(broker.handle);
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', () => resolve()));
  const { port } = server.address() as AddressInfo;
  const link = {
    ...new LinkInput(),
    id: 1,
    name: 'b',
    kind: 'mqtt',
    host: '127.0.0.1',
    port,
    timeoutMs: 300,
    secret: null,
  } as LinkEntity;
  const readings: RawReading[] = [];
  const runner = new MqttRunner(
    link,
    points,
    new AllowedNetworks({ allowedNetworks: null } as never),
    health(),
    (r) => readings.push(...r),
    stored,
    () => undefined,
  );
  const stop = async () => {
    await runner.stop();
    await new Promise<void>((resolve) => broker.close(() => resolve()));
    await new Promise<void>((resolve) => server.close(() => resolve()));
  };
  return { broker, port, runner, readings, stop };
}

it('QoS 1: a message is acknowledged when its reading has been stored, not before', async () => {
  let stored: () => void = () => undefined;
  const { broker, port, runner, readings, stop } = await startBroker(
    [point(7, '{device}/x')],
    () => new Promise((resolve) => (stored = resolve)),
  );
  let acknowledged = 0;
  broker.on('ack', () => acknowledged++);
  const subscribed = new Promise((resolve) => broker.on('subscribe', resolve));
  runner.start();
  await subscribed;
  const publisher = await mqtt.connectAsync(`mqtt://127.0.0.1:${port}`);
  await publisher.publishAsync('plug/x', '5', { qos: 1 });
  while (!readings.some((r) => r.raw === 5)) await new Promise((resolve) => setImmediate(resolve));
  // The reading is there and not stored: whatever the broker still hears, it hears no acknowledgement.
  await publisher.publishAsync('plug/other', '1', { qos: 1 });
  expect(acknowledged).toBe(0);
  const ack = new Promise((resolve) => broker.once('ack', resolve));
  stored();
  await ack;
  expect(acknowledged).toBe(1);
  await publisher.endAsync(true);
  await stop();
});

describe('a command', () => {
  const command = knownPoint(
    9,
    1,
    newMessage({
      key: 'relay',
      name: 'Relay',
      topic: '{device}/wanted',
      quantity: 'contact-state',
      access: 'write',
      on: 'close',
      off: 'open',
    }),
    { topic: 'plug' },
  );
  const nothing = () => Promise.resolve();

  it('is the word for its state, on the topic of its device, and done when the broker has taken it', async () => {
    const { broker, runner, stop } = await startBroker([point(7, '{device}/x'), command], nothing);
    const subscribed = new Promise((resolve) => broker.on('subscribe', resolve));
    const published: string[] = [];
    broker.on('publish', ({ topic, payload, qos }, client) => {
      if (client) published.push(`${topic} ${payload.toString()} ${qos}`);
    });
    runner.start();
    await subscribed;
    await runner.write(command, 1);
    await runner.write(command, 0);
    expect(published).toEqual(['plug/wanted close 1', 'plug/wanted open 1']);
    await stop();
  });
  it('is not lost silently where the broker does not take it, or is not there', async () => {
    const { broker, runner, stop } = await startBroker([point(7, '{device}/x'), command], nothing);
    await expect(runner.write(command, 1)).rejects.toThrow(/is not connected; nothing was sent/);
    broker.authorizePublish = () => undefined; // never says yes or no
    const subscribed = new Promise((resolve) => broker.on('subscribe', resolve));
    runner.start();
    await subscribed;
    await expect(runner.write(command, 1)).rejects.toThrow(
      'The command on “plug/wanted” was not accepted: the broker did not acknowledge within 300 ms.',
    );
    await stop();
  });
  it('is refused for what only reports', async () => {
    const { runner, stop } = await startBroker([point(7, '{device}/x')], nothing);
    await expect(runner.write(point(7, '{device}/x'), 1)).rejects.toMatchObject({
      detail: '“p7” cannot be written.',
    });
    await stop();
  });
});

describe('what is posted', () => {
  const make = () => {
    const readings: RawReading[] = [];
    const runner = new PushRunner(
      1,
      [point(1, '{device}/temp'), point(2, 'boiler', '/power')],
      health(),
      (r) => readings.push(...r),
      () => Promise.resolve(),
      () => undefined,
    );
    return { runner, readings };
  };
  it('SenML: each record is a message on the topic of its name, at its own time', async () => {
    const { runner, readings } = make();
    const pack = [
      { bn: 'plug/', bt: 1_780_000_000, n: 'temp', v: 21.5 },
      { n: 'unknown', v: 1 },
    ];
    expect(await runner.take('', pack)).toEqual({ messages: 2, taken: 1 });
    expect(readings).toEqual([
      { pointId: 1, t: 1_780_000_000_000, raw: 21.5, q: QUALITY.good, ownTime: true },
    ]);
  });
  it('a time that cannot be, of a clock that runs wild, gives way to that of the arrival', async () => {
    const { runner, readings } = make();
    const before = Date.now();
    for (const bt of [1e300, 4_102_444_800, 300_000_000])
      await runner.take('', [{ n: 'plug/temp', bt, v: 21.5 }]);
    expect(readings).toHaveLength(3);
    for (const { t, q } of readings) {
      expect(q).toBe(QUALITY.arrivalTime);
      expect(t).toBeGreaterThanOrEqual(before);
      expect(t).toBeLessThanOrEqual(Date.now());
    }
  });
  it('any other JSON is a message on the topic behind the door', async () => {
    const { runner, readings } = make();
    expect(await runner.take('boiler', { power: 1150 })).toEqual({ messages: 1, taken: 1 });
    expect(readings[0]).toMatchObject({ pointId: 2, raw: 1150 });
    expect((await runner.watch()).topics.map((t) => t.topic)).toEqual(['boiler']);
  });
  it('a pack that is none is refused in words, and counted', async () => {
    const { runner, readings } = make();
    await expect(runner.take('', [{ n: 'a', v: 'x' }])).rejects.toMatchObject({
      detail: 'Record 1: “v” is not a number.',
    });
    expect((await runner.watch()).refused).toEqual({ count: 1, last: 'Record 1: “v” is not a number.' });
    expect(readings).toEqual([]);
  });
});

describe('the book of topics', () => {
  it('a million topics do not fill the memory: what is beyond is counted', () => {
    const book = new TopicBook();
    for (let i = 0; i < 1_000_000; i++) book.note(`t/${i}`, '1', false, i);
    const { topics, more } = book.seen(null);
    expect(topics).toHaveLength(MOST_TOPICS);
    expect(more).toBe(1_000_000 - MOST_TOPICS);
  });
  it('tells how often a topic comes, and cuts long payloads', () => {
    const book = new TopicBook();
    for (const at of [0, 1000, 2000, 3000]) book.note('a', 'x'.repeat(10_000), false, at);
    const [topic] = book.seen(null).topics;
    expect(topic).toMatchObject({ count: 4, everyMs: 1000 });
    expect(topic!.payload.length).toBeLessThan(5000);
  });
  it('one pause, a clock set back or what was retained long ago do not change how often a topic is said to come', () => {
    const every = (...at: number[]) => {
      const book = new TopicBook();
      for (const t of at) book.note('a', '1', false, t);
      return book.seen(null).topics[0]?.everyMs;
    };
    expect(every(0, 2000, 4000, 604_000, 606_000)).toBe(2000);
    expect(every(10_000, 12_000, 8000, 10_000)).toBe(2000);
    const book = new TopicBook();
    book.note('a', '1', true, 0);
    book.note('a', '1', false, 1990);
    expect(book.seen(null).topics[0]?.everyMs).toBeNull();
    book.note('a', '1', false, 3990);
    expect(book.seen(null).topics[0]?.everyMs).toBe(2000);
  });
});

it('of a token only its digest is kept, and no other one is good', () => {
  const { token, secret } = newToken();
  expect(isToken(token, secret)).toBe(true);
  expect(secret).not.toContain(token);
  for (const wrong of ['', `${token}x`, token.slice(1), secret]) expect(isToken(wrong, secret)).toBe(false);
  expect(isToken(token, null)).toBe(false);
});
