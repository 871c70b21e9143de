import { Injectable, Logger, OnApplicationBootstrap, OnModuleDestroy } from '@nestjs/common';
import { SettingsService } from './settings.service.js';

/** The settings of a device are read again after so long, ms. */
const ROUND = 5 * 60_000;
/** One device at a time, and a link has other things to do in between, ms. */
const SHORTEST = 2000;
const NEVER = -1e15;

/** Reads the settings of one device after the other: somebody may change them at the device itself. */
@Injectable()
export class SettingsWatch implements OnApplicationBootstrap, OnModuleDestroy {
  private readonly log = new Logger('settings');
  /** When each device was read last, of the monotonic clock. */
  private readonly readAt = new Map<number, number>();
  private timer: NodeJS.Timeout | null = null;
  private stopped = false;

  constructor(private readonly settings: SettingsService) {}

  onApplicationBootstrap(): void {
    this.timer = setTimeout(() => void this.look(), SHORTEST);
  }

  onModuleDestroy(): void {
    this.stopped = true;
    if (this.timer) clearTimeout(this.timer);
  }

  private async look(): Promise<void> {
    // After a start, and of a device that is new, nothing is known: those first.
    const age = (id: number) => performance.now() - (this.readAt.get(id) ?? NEVER);
    const due = this.settings.devices().filter((id) => age(id) >= ROUND);
    const next = due.sort((a, b) => age(b) - age(a))[0];
    if (next !== undefined)
      try {
        this.readAt.set(next, performance.now());
        await this.settings.read(next);
      } catch (error) {
        this.log.error(`the settings of device ${next} could not be read: ${(error as Error).message}`);
      }
    if (!this.stopped) this.timer = setTimeout(() => void this.look(), SHORTEST);
  }
}
