import type {
  DeviceSetting,
  DeviceSettingsRead,
  SettingToWrite,
  SettingWanted,
  SettingWritten,
} from '@loka/contract/settings';
import { isMessage, isRegister, stepOf } from '@loka/core/definitions';
import { isSetting } from '@loka/core/points';
import { quantityInfo } from '@loka/core/quantities';
import { isSameSetting, movesReadings } from '@loka/core/settings';
import { Injectable, Logger, OnModuleDestroy, OnModuleInit } from '@nestjs/common';
import type { Subscription } from 'rxjs';
import { LinkFault } from '../acquisition/runner.js';
import { AcquisitionService } from '../acquisition/acquisition.service.js';
import { canBeSet, SettingWire, type SettingPoint } from '../acquisition/settingWire.service.js';
import { DeviceBook, type KnownPoint } from '../book/deviceBook.js';
import { SettingsBook } from '../book/settingsBook.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { invalidField, notFound, Problem } from '../problem/errors.js';
import { VerificationsService } from '../verify/verifications.service.js';
import { SettingHistory } from './settingHistory.service.js';
import { faultOf, show } from './settingValue.js';

/** What could not be sent for so long, ms, is not sent any more. */
const WRITTEN_WITHIN = 10_000;

/** Settings inside devices: read, held against what is wanted, written after asking, and read back. */
@Injectable()
export class SettingsService implements OnModuleInit, OnModuleDestroy {
  private readonly log = new Logger('settings');
  /** Why a setting could not be read the last time. */
  private readonly faults = new Map<number, string>();
  /** What is under way on a device: one thing after the other. */
  private readonly busy = new Map<number, Promise<unknown>>();
  private telling: Subscription | null = null;

  constructor(
    private readonly book: DeviceBook,
    private readonly settings: SettingsBook,
    private readonly acquisition: AcquisitionService,
    private readonly wire: SettingWire,
    private readonly verifications: VerificationsService,
    private readonly history: SettingHistory,
    private readonly changes: ChangeFeed,
  ) {}

  onModuleInit(): void {
    this.telling = this.acquisition.settingTold.subscribe((id) => void this.takeTold(id));
  }

  onModuleDestroy(): void {
    this.telling?.unsubscribe();
  }

  /** Devices that have settings. */
  devices(): number[] {
    const points = this.book.allPoints().filter(isSettingPoint);
    return [...new Set(points.flatMap((p) => p.deviceId ?? []))];
  }

  async of(deviceId: number): Promise<DeviceSettingsRead> {
    const settings = this.pointsOf(deviceId).map((point) => this.toSetting(point));
    return { settings, changes: await this.history.of(deviceId) };
  }

  /** Reads all settings of a device. What cannot be read says why, and keeps what was read before. */
  async read(deviceId: number): Promise<DeviceSettingsRead> {
    const points = this.pointsOf(deviceId);
    await this.inTurn(deviceId, async () => {
      let gone: string | null = null;
      for (const point of points) {
        // A device that does not answer one question will not answer the next.
        if (gone === null) gone = await this.readOne(point);
        else this.faults.set(point.id, gone);
      }
    });
    this.changes.say('settings', 'verifications');
    return this.of(deviceId);
  }

  /** Says what is wanted of settings: of all of them, or of none when one cannot be. */
  async want(deviceId: number, wanted: readonly SettingWanted[]): Promise<DeviceSettingsRead> {
    const points = this.pointsOf(deviceId);
    wanted.forEach(({ pointId, value }, i) => {
      const fault = value === null || value === undefined ? null : faultOf(pointOf(points, pointId), value);
      if (fault) throw invalidField(`settings.${i}.value`, fault);
    });
    for (const { pointId, value } of wanted)
      await this.settings.want(pointOf(points, pointId).id, value ?? null);
    this.changes.say('settings', 'verifications');
    return this.of(deviceId);
  }

  /**
   * Writes settings one after the other and reads each one back. One that has changed since it was seen is not overwritten;
   * when the device stops answering the others are not tried.
   */
  async write(deviceId: number, toWrite: readonly SettingToWrite[], who: string): Promise<SettingWritten[]> {
    const points = this.pointsOf(deviceId);
    toWrite.forEach(({ pointId, value }, i) => {
      const point = pointOf(points, pointId);
      if (!canBeSet(point))
        throw invalidField(`settings.${i}.pointId`, `“${point.definition.name}” can only be read.`);
      const fault = faultOf(point, value);
      if (fault) throw invalidField(`settings.${i}.value`, fault);
    });
    const written: SettingWritten[] = [];
    let since = performance.now();
    await this.inTurn(deviceId, async () => {
      let gone = '';
      for (const setting of toWrite) {
        const point = pointOf(points, setting.pointId);
        const result = gone ? notDone(point.id, gone) : await this.writeOne(point, setting, who, since);
        // Also when it was written and then kept waiting: whoever asked for the rest has gone away.
        if (isTooLate(since)) gone = 'Not tried: what came before it took too long.';
        else if (result.before === null || result.after === null)
          gone = 'Not tried: the device had stopped answering.';
        since = performance.now();
        written.push(result);
      }
    });
    this.readingsMove(points.filter((p) => written.some((w) => w.pointId === p.id && w.after !== w.before)));
    this.changes.say('settings', 'verifications');
    return written;
  }

  /** Reads a setting; null when it was, else why not. */
  private async readOne(point: SettingPoint): Promise<string | null> {
    try {
      await this.valueOf(point);
      return null;
    } catch (error) {
      if (!(error instanceof Problem)) throw error;
      this.faults.set(point.id, error.detail);
      return isGone(error) ? error.detail : null;
    }
  }

  /** What stands in the device now. @throws LinkFault, Problem */
  private async valueOf(point: SettingPoint): Promise<number> {
    this.throwIfAbsent(point);
    return this.keep(point, await this.wire.read(point));
  }

  /** A device has said by itself what a setting is. */
  private async takeTold(pointId: number): Promise<void> {
    const point = this.book.point(pointId);
    if (!point || point.deviceId === null || !isSettingPoint(point)) return;
    try {
      // After what is under way: Loka's own writing is no news.
      await this.inTurn(point.deviceId, async () => {
        await this.keep(point, this.wire.told(point));
      });
    } catch (error) {
      if (error instanceof Problem) this.faults.set(pointId, error.detail);
      else this.log.error(`what a device says of its setting could not be kept: ${(error as Error).message}`);
    }
    this.changes.say('settings', 'verifications');
  }

  /** @throws Problem */
  private throwIfAbsent({ id, definition }: SettingPoint): void {
    const absence = this.book.absence(id);
    if (absence) throw new Problem('link-off', `“${definition.name}” ${absence}.`);
  }

  /** Keeps what stands in the device. @param ours what Loka has just written is no news */
  private async keep(point: SettingPoint, value: number, ours = false): Promise<number> {
    const { definition, id } = point;
    const before = this.settings.of(id).value;
    await this.settings.read(id, value, Date.now(), stepOf(definition));
    this.faults.delete(id);
    if (before !== null && !ours && !isSameSetting(before, value, stepOf(definition))) {
      this.readingsMove([point]);
      await this.history.putDown(
        point,
        before,
        value,
        (await this.history.takenLate(point, value)) ?? 'not through Loka',
      );
    }
    return value;
  }

  private async writeOne(
    point: SettingPoint,
    { value, seen }: SettingToWrite,
    who: string,
    since: number,
  ): Promise<SettingWritten> {
    const { id: pointId, definition, deviceId } = point;
    const step = stepOf(definition);
    let before: number;
    try {
      before = await this.valueOf(point);
    } catch (error) {
      return notDone(pointId, messageOf(error));
    }
    // Whoever asked has been told by then that nobody knows, and may have gone away.
    if (isTooLate(since))
      return {
        ...notDone(pointId, 'Not written: the device or the database took too long. Try again.'),
        before,
        after: before,
      };
    if (!isSameSetting(before, seen, step))
      return {
        ...notDone(
          pointId,
          `It has changed since it was read: it is ${show(before)} by now. Nothing was written.`,
        ),
        before,
        after: before,
      };
    let after: number | null = null;
    let message = '';
    try {
      after = await this.keep(point, await this.wire.write(point, value, step), true);
      if (!isSameSetting(after, value, step))
        message = `${show(value)} was written, and the device gives back ${show(after)}.`;
    } catch (error) {
      // Whether it took the value nobody knows.
      message = messageOf(error);
    }
    try {
      await this.history.add({
        deviceId: deviceId as number,
        pointId,
        at: Date.now(),
        who,
        before,
        value,
        after,
      });
      if (after !== null && !isSameSetting(after, before, step))
        await this.history.putDown(point, before, after, who);
    } catch (error) {
      // What the device has is told anyway.
      const why = `Who wrote it could not be recorded: ${(error as Error).message}`;
      return { pointId, done: message === '', before, after, message: message || why };
    }
    return { pointId, done: message === '', before, after, message };
  }

  /** What was read with other settings says nothing about what is read from now on. */
  private readingsMove(points: readonly SettingPoint[]): void {
    const moving = points.filter((p) => movesReadings(p.definition.setting ?? 'other'));
    for (const nodeId of new Set(this.history.placesOf(moving.map((p) => p.deviceId))))
      this.verifications.lookAnew(nodeId);
  }

  private async inTurn(deviceId: number, work: () => Promise<void>): Promise<void> {
    const before = this.busy.get(deviceId) ?? Promise.resolve();
    const turn = before.then(work, work);
    this.busy.set(deviceId, turn);
    try {
      await turn;
    } finally {
      if (this.busy.get(deviceId) === turn) this.busy.delete(deviceId);
    }
  }

  private pointsOf(deviceId: number): SettingPoint[] {
    const own = this.book.allPoints().filter((p) => p.deviceId === deviceId);
    if (own.length === 0) throw notFound('device', deviceId);
    return own.filter(isSettingPoint);
  }

  private toSetting(point: SettingPoint): DeviceSetting {
    const { id, key, definition, phase } = point;
    const { wanted, value, readAt, changedAt, before } = this.settings.of(id);
    return {
      pointId: id,
      key,
      name: definition.name,
      role: definition.setting ?? 'other',
      unit: quantityInfo(definition.quantity).unit,
      phase: definition.phase ?? phase,
      names: definition.names ?? [],
      writable: canBeSet(point),
      told: isMessage(definition),
      step: stepOf(definition),
      wanted,
      read: value,
      readAt,
      changedAt,
      before,
      fault: this.faults.get(id) ?? '',
    };
  }
}

const isSettingPoint = (point: KnownPoint): point is SettingPoint =>
  isSetting(point.definition) && (isRegister(point.definition) || isMessage(point.definition));

function pointOf(points: readonly SettingPoint[], id: number): SettingPoint {
  const point = points.find((p) => p.id === id);
  if (!point) throw notFound('setting of this device', id);
  return point;
}

/** Whether the device, and not only one register of it, is at fault: an exception of the protocol is an answer. */
const isGone = (error: Problem): boolean =>
  error.code === 'link-off' || (error instanceof LinkFault && error.fault.exception === null);

const isTooLate = (since: number): boolean => performance.now() - since > WRITTEN_WITHIN;

const notDone = (pointId: number, message: string): SettingWritten => ({
  pointId,
  done: false,
  before: null,
  after: null,
  message,
});

function messageOf(error: unknown): string {
  if (error instanceof Problem) return error.detail;
  throw error;
}
