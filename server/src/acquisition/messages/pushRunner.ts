import type { TopicsSeen } from '@loka/contract/messages';
import { isSenml, LARGEST_PAYLOAD, resolveSenml, SenmlError, type Said } from '@loka/core/messages';
import type { AcquisitionHealth } from '../../devices/acquisitionHealth.js';
import type { KnownPoint } from '../../book/deviceBook.js';
import { setImmediate } from 'node:timers/promises';
import pTimeout, { TimeoutError } from 'p-timeout';
import { Problem } from '../../problem/errors.js';
import type { RawReading, TellingRunner } from '../runner.js';
import { MessageDesk } from './messageDesk.js';
import { ToldSettings } from './toldSettings.js';
import { TopicBook } from './topicBook.js';

/** Records that are taken in at one go. */
const SLICE = 500;
/** Whoever posts is answered within this time, ms. */
const KEPT_WITHIN = 4000;

/**
 * Takes in what devices and scripts post: a SenML pack (RFC 8428), each record of which is a message on the topic
 * of its name, or any other JSON, which is a message on the topic behind the door.
 */
export class PushRunner implements TellingRunner {
  private desk: MessageDesk;
  told: ToldSettings;
  private readonly book = new TopicBook();

  constructor(
    private readonly linkId: number,
    points: readonly KnownPoint[],
    private readonly health: AcquisitionHealth,
    private readonly deliver: (readings: RawReading[]) => void,
    private readonly stored: () => Promise<void>,
    private readonly settingTold: (pointId: number) => void,
  ) {
    this.desk = new MessageDesk(linkId, points, health, deliver);
    this.told = new ToldSettings(points, settingTold);
  }

  start(): void {
    this.desk.start();
  }

  async stop(): Promise<void> {
    this.desk.stop();
  }

  renew(points: readonly KnownPoint[], changed: ReadonlySet<number>): void {
    this.desk.stop();
    const { desk, told } = this;
    this.desk = new MessageDesk(this.linkId, points, this.health, this.deliver, { desk, changed });
    this.desk.start();
    this.told = new ToldSettings(points, this.settingTold, { told, changed });
  }

  async write({ definition }: KnownPoint): Promise<void> {
    throw new Problem(
      'not-writable',
      `“${definition.name}” only reports; nothing can be sent to it over this link.`,
    );
  }

  hurry(): void {
    // Nobody can be asked over a door.
  }

  async tellAgain(): Promise<void> {
    // What was posted is kept by nobody but Loka.
  }

  isOffline(deviceId: number): boolean {
    return this.desk.isOffline(deviceId);
  }

  async watch(): Promise<TopicsSeen> {
    return this.book.seen(null);
  }

  /** Takes a posted body in; resolves when its readings are stored. @returns messages in it, and those that a point took */
  async take(topic: string, body: unknown): Promise<{ messages: number; taken: number }> {
    const now = Date.now();
    const messages = this.messagesIn(topic, body, now);
    let taken = 0;
    for (const [i, { topic: at, payload, said }] of messages.entries()) {
      // A pack may have very many records; whoever else waits has a turn in between.
      if (i > 0 && i % SLICE === 0) await setImmediate();
      if (payload.length > LARGEST_PAYLOAD) this.refuse(`“${at}” carries ${payload.length} characters.`);
      this.book.note(at, payload, false, now);
      const isSetting = this.told.take(at, payload, now);
      if (this.desk.take(at, payload, now, { said }) || isSetting) taken++;
    }
    this.health.answered(this.linkId, null, null);
    if (taken > 0) await this.kept();
    return { messages: messages.length, taken };
  }

  /** Waits until what was taken is in the database or on disk; it is not acknowledged before. */
  private async kept(): Promise<void> {
    try {
      await pTimeout(this.stored(), { milliseconds: KEPT_WITHIN });
    } catch (error) {
      throw new Problem(
        'not-kept',
        error instanceof TimeoutError
          ? 'It is not kept for certain yet: the database does not answer. Send it again later; what brings its own time is kept once.'
          : `It could not be kept: ${(error as Error).message}. Send it again later.`,
      );
    }
  }

  private messagesIn(
    topic: string,
    body: unknown,
    now: number,
  ): { topic: string; payload: string; said: Said }[] {
    if (!isSenml(body)) return [{ topic, payload: JSON.stringify(body) ?? '', said: {} }];
    try {
      return resolveSenml(body, now).map(({ name, value, sum, t, timed, unit }) => ({
        topic: name,
        payload: JSON.stringify(value ?? sum),
        said: timed ? { t, unit } : { unit },
      }));
    } catch (error) {
      if (error instanceof SenmlError) this.refuse(error.message);
      throw error;
    }
  }

  private refuse(reason: string): never {
    this.book.refuse(reason);
    this.health.misread(this.linkId, null, reason);
    throw new Problem('not-understood', reason);
  }
}
