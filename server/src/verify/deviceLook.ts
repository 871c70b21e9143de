import { stepOf } from '@loka/core/definitions';
import { isReadable, isSetting } from '@loka/core/points';
import { quantityInfo } from '@loka/core/quantities';
import { reachOf } from '@loka/core/sensing';
import type { DcSide, SettingSeen, SettingsSeen, UnusedInput } from '@loka/core/verify';
import { Injectable } from '@nestjs/common';
import { DeviceBook, type KnownPoint } from '../book/deviceBook.js';
import { SettingsBook } from '../book/settingsBook.js';
import { CorrectionBook } from '../series/correctionBook.js';
import type { PlaceMeter } from './metered.js';
import { RecentReadings } from './recentReadings.js';

/** What stands in a device is believed for so long after it was read, ms; all are read again well within it. */
const SETTINGS_HOLD = 20 * 60_000;

/** What a diagnosis looks at of the device itself: its settings, its DC side, its inputs without a circuit. */
@Injectable()
export class DeviceLook {
  constructor(
    private readonly book: DeviceBook,
    private readonly settings: SettingsBook,
    private readonly corrections: CorrectionBook,
    private readonly recent: RecentReadings,
  ) {}

  /** What is set in the device that measures a place, beside what Loka does to the same readings. */
  settingsOf(nodeId: number, { points }: PlaceMeter): SettingsSeen | null {
    const device = points[0]?.deviceId ?? null;
    if (device === null) return null;
    const set = this.book
      .allPoints()
      // A device with several channels has settings of each: those of other places say nothing here.
      .filter((p) => p.deviceId === device && isSetting(p.definition) && (p.nodeId ?? nodeId) === nodeId)
      .map((point): SettingSeen => {
        const { definition } = point;
        const { value, readAt, wanted, before, changedAt } = this.settings.of(point.id);
        return {
          role: definition.setting ?? 'other',
          name: definition.name,
          unit: quantityInfo(definition.quantity).unit,
          ...(definition.names ? { names: definition.names } : {}),
          phase: definition.phase ?? point.phase,
          // What was read long ago says nothing about now.
          read: readAt !== null && readAt > Date.now() - SETTINGS_HOLD ? value : null,
          wanted,
          before,
          changedAt,
          step: stepOf(definition),
        };
      });
    if (set.length === 0) return null;
    const sensed = points.find((p) => p.definition.quantity === 'current') ?? points[0];
    const gains = points.flatMap((p) => {
      const correction = this.corrections.correctionsOf(p.id).at(-1);
      const { quantity, name } = p.definition;
      return correction
        ? [{ name, quantity, phase: p.phase, gain: correction.gain, at: this.corrections.madeAt(correction) }]
        : [];
    });
    return { set, sensing: (sensed && this.corrections.sensingsOf(sensed.id).at(-1)) ?? null, gains };
  }

  /** The DC side of a place: a sensor's voltage and current, and the power that other devices read of it. */
  dcOf(nodeId: number, from: number): DcSide | null {
    const points = this.pointsOf(nodeId).filter((p) => p.phase === 'DC' && isReadable(p.definition));
    const current = dcCurrentOf(points);
    if (!current) return null;
    // Also what a device here reads of a DC side and nobody has given a place: an inverter's own figures.
    const devices = new Set(this.pointsOf(nodeId).map((p) => p.deviceId));
    const ofDevice = points.find(
      (p) => p.definition.quantity === 'voltage' && p.deviceId === current.deviceId,
    );
    const voltage = ofDevice ?? points.find((p) => p.definition.quantity === 'voltage');
    return {
      voltage: voltage ? this.recent.trace(voltage.id, from) : null,
      current: this.recent.trace(current.id, from),
      beside: this.book
        .allPoints()
        .filter(
          (p) =>
            p.definition.quantity === 'active-power' &&
            p.definition.phase === 'DC' &&
            devices.has(p.deviceId) &&
            p.deviceId !== current.deviceId,
        )
        .map((p) => ({ name: p.definition.name, power: this.recent.trace(p.id, from) })),
    };
  }

  /** Inputs of a device for currents that belong to no circuit. */
  unusedOf(deviceId: number, from: number): UnusedInput[] {
    return this.book
      .allPoints()
      .filter(
        (p) =>
          p.deviceId === deviceId &&
          p.nodeId === null &&
          p.definition.quantity === 'current' &&
          isReadable(p.definition),
      )
      .map((p) => {
        const sensing = this.corrections.sensingsOf(p.id).at(-1);
        return {
          name: p.definition.name,
          current: this.recent.trace(p.id, from),
          range: sensing ? (reachOf(sensing)?.upTo ?? null) : null,
        };
      });
  }

  private pointsOf(nodeId: number): KnownPoint[] {
    return this.book.allPoints().filter((p) => p.nodeId === nodeId);
  }
}

export const dcCurrentOf = (points: readonly KnownPoint[]): KnownPoint | undefined =>
  points.find((p) => p.phase === 'DC' && p.definition.quantity === 'current' && isReadable(p.definition));

/** The device of a DC side where nothing else measures; it reads no line. */
export function ofDcAlone(points: readonly KnownPoint[]): PlaceMeter | undefined {
  const current = dcCurrentOf(points);
  return current?.deviceId == null
    ? undefined
    : { deviceId: current.deviceId, name: current.deviceName, points: [] };
}
