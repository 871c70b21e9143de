import type { CutOffDecision, CutOffState } from '@loka/core/control';
import { printAge, printBeside, printSet } from '@loka/core/formats';
import { quantityInfo } from '@loka/core/quantities';
import { siteClock } from '@loka/core/time';
import { Injectable, Logger } from '@nestjs/common';
import type { Standing } from '../alerts/standing.js';
import { DeviceBook } from '../book/deviceBook.js';
import { SwitchBook } from '../book/switchBook.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { SiteService } from '../site/site.service.js';
import type { CutOffRuleEntity } from './control.entity.js';
import { CutOffBasis } from './cutOffBasis.js';

/** What is said of a cut-off rule: why it has tripped, and what is the matter with it. */
@Injectable()
export class CutOffWords {
  private readonly log = new Logger('cut-off');
  private zone = 'UTC';

  constructor(
    private readonly book: SwitchBook,
    private readonly devices: DeviceBook,
    private readonly basis: CutOffBasis,
    private readonly sites: SiteService,
    private readonly changes: ChangeFeed,
  ) {}

  /** Reads the clock that lockouts are told by, now and whenever the site changes. */
  async followSite(): Promise<void> {
    await this.readZone();
    this.changes.changed.subscribe((topic) => {
      if (topic === 'site')
        void this.readZone().catch((error: Error) =>
          this.log.error(`the site could not be read: ${error.message}`),
        );
    });
  }

  /** Why it has tripped. */
  causeOf({ pointId, limit, trippedValue, blindAfterMs }: CutOffRuleEntity): string {
    if (trippedValue === null)
      return `nothing could be read for ${printAge(blindAfterMs)}, and it opens then`;
    const quantity = this.devices.point(pointId)?.definition.quantity;
    const unit = quantity ? quantityInfo(quantity).unit : '';
    return `${printBeside(trippedValue, limit, unit)} was above ${printSet(limit, unit)}`;
  }

  /** Why its switch may not be closed. @param at when it tripped */
  lockoutOf(entity: CutOffRuleEntity, at: number): string {
    return `Cut off at ${siteClock(this.zone, at, 'd LLL HH:mm:ss')}: ${this.causeOf(entity)}. Look at the load, then restore it.`;
  }

  /** What is the matter with it: locked out, blind for longer than allowed, or without what it rests on. */
  standingOf(entity: CutOffRuleEntity, state: CutOffState, decision: CutOffDecision | null): Standing[] {
    const { id, pointId, switchId, enabled } = entity;
    const name = `Cut-off of ${this.book.get(switchId)?.name ?? 'a switch that is gone'}`;
    const of = (kind: Standing['kind'], condition: string): Standing[] => [
      { source: `cut-off ${id} ${kind}`, kind, name, condition, pointId },
    ];
    if (state.tripped) return of('lockout', `Locked out: ${this.causeOf(entity)}`);
    if (!enabled) return [];
    const missing = this.basis.missingOf(entity);
    if (missing !== null) return of('missing', missing);
    if (decision?.action === 'none' && decision.because === 'blind' && decision.long)
      return of('blind', `No reading for more than ${printAge(entity.blindAfterMs)}: it does not protect`);
    return [];
  }

  private async readZone(): Promise<void> {
    this.zone = (await this.sites.get())?.timeZone ?? 'UTC';
  }
}
