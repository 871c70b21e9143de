import { isRegister, type AnyDefinition } from '@loka/core/definitions';
import { topicFor, type MessageDefinition } from '@loka/core/messages';
import { isWritableKind, readSpanOf, valueOf, type PointDefinition } from '@loka/core/registers';
import { isSameSetting } from '@loka/core/settings';
import { Injectable } from '@nestjs/common';
import type { KnownPoint } from '../book/deviceBook.js';
import { Problem } from '../problem/errors.js';
import { AcquisitionService } from './acquisition.service.js';
import type { Told } from './messages/toldSettings.js';
import { isTelling, type TellingRunner } from './runner.js';

/** A device may take a moment until it gives back what was written: it is asked so often, with pauses, ms. */
const READ_BACK = [0, 300, 1000];
/** A device that tells by itself what it was set to has done so within this, ms. */
const TOLD_WITHIN = 5000;
/** What the broker has kept is told again within this, ms. */
const KEPT_WITHIN = 1000;

/** A point that is a setting: in a register, or told by messages. */
export type SettingPoint = KnownPoint & { definition: PointDefinition | MessageDefinition };

/** Reads and writes settings, whatever the device speaks. */
@Injectable()
export class SettingWire {
  constructor(private readonly acquisition: AcquisitionService) {}

  /** What a setting is now: asked of a register; of a device that tells by itself, what it told last. @throws LinkFault, Problem */
  async read(point: SettingPoint): Promise<number> {
    const { definition } = point;
    const value = isRegister(definition)
      ? await this.inRegister(point, definition)
      : await this.tellAgain(point, definition);
    return this.finite(value, definition);
  }

  /** What a device has just told by itself. @throws Problem */
  told(point: SettingPoint): number {
    const { definition } = point;
    if (isRegister(definition)) throw new Error('a register reports nothing by itself');
    return this.finite(valueIn(this.telling(point).told.of(point.id), point, definition), definition);
  }

  /**
   * Sets a setting, and says what the device gives back.
   * @param step its smallest change, base unit; @throws LinkFault, Problem
   */
  async write(point: SettingPoint, value: number, step: number): Promise<number> {
    const { definition } = point;
    if (isRegister(definition)) return this.writeRegister(point, value, step);
    const runner = this.telling(point);
    this.throwIfOffline(runner, point);
    // Heard from before it is sent: the answer may be quicker than the acknowledgement.
    const back = runner.told.next(
      point.id,
      TOLD_WITHIN,
      (told) => 'value' in told && isSameSetting(told.value, value, step),
    );
    await runner.write(point, value, TOLD_WITHIN);
    const told = await back;
    if (told === null)
      throw new Problem(
        'not-understood',
        `It was sent, and within ${TOLD_WITHIN / 1000} s the device said nothing on “${topicFor(definition.topic, point.topic)}”. It may still take it.`,
      );
    return this.finite(valueIn(told, point, definition), definition);
  }

  private async inRegister(point: KnownPoint, definition: PointDefinition): Promise<number> {
    const span = readSpanOf(definition);
    if (!span || point.linkId === null)
      throw new Problem('not-understood', `The address of “${definition.name}” is not complete.`);
    const link = await this.acquisition.modbusLink(point.linkId);
    return valueOf(definition, await this.acquisition.readOnce(link, point.unit, span));
  }

  private async writeRegister(point: SettingPoint, value: number, step: number): Promise<number> {
    await this.acquisition.write(point, value);
    return this.readBack(point, value, step);
  }

  /**
   * What a register gives back after a value was written to it; a device may take a moment until it is that value.
   * @param step its smallest change, base unit; @throws LinkFault, Problem
   */
  async readBack(point: SettingPoint, value: number, step: number): Promise<number> {
    let read = NaN;
    for (const pause of READ_BACK) {
      await new Promise((resolve) => setTimeout(resolve, pause));
      read = await this.read(point);
      if (isSameSetting(read, value, step)) break;
    }
    return read;
  }

  private async tellAgain(point: SettingPoint, definition: MessageDefinition): Promise<number> {
    const runner = this.telling(point);
    this.throwIfOffline(runner, point);
    const next = runner.told.next(point.id, KEPT_WITHIN);
    await runner.tellAgain(point);
    return valueIn((await next) ?? runner.told.of(point.id), point, definition);
  }

  private telling(point: KnownPoint): TellingRunner {
    const runner = this.acquisition.runnerOf(point);
    if (runner && isTelling(runner)) return runner;
    throw new Problem('link-off', 'The link of this device is switched off.');
  }

  private throwIfOffline(runner: TellingRunner, { deviceId, deviceName }: KnownPoint): void {
    if (deviceId !== null && runner.isOffline(deviceId))
      throw new Problem('link-off', `“${deviceName}” says that it is offline.`);
  }

  private finite(value: number, { name }: AnyDefinition): number {
    if (!Number.isFinite(value)) throw new Problem('not-understood', `“${name}” holds no number.`);
    return value;
  }
}

/** Whether somebody can set it, or the device only tells it. */
export const canBeSet = ({ definition }: SettingPoint): boolean =>
  isRegister(definition) ? isWritableKind(definition.kind) : definition.setTopic !== undefined;

/** @throws Problem */
function valueIn(told: Told | null, { topic }: KnownPoint, definition: MessageDefinition): number {
  if (told === null)
    throw new Problem(
      'not-understood',
      `The device has said nothing yet on “${topicFor(definition.topic, topic)}”.`,
    );
  if ('fault' in told) throw new Problem('not-understood', told.fault);
  return told.value;
}
