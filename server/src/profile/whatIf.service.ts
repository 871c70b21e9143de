import type { PlaceWhatIf, WhatIfInput } from '@loka/contract/whatIf';
import { hoursOfFile, sunOfHours, type LoadChange, type PowerSpans } from '@loka/core/profile';
import { Injectable } from '@nestjs/common';
import { InstallationBook } from '../book/installationBook.js';
import { invalidField, notFound } from '../problem/errors.js';
import { SiteService } from '../site/site.service.js';
import { PlacePower } from './placePower.js';
import { ProfileThread } from './profileThread.js';

/** Works out what would be if loads did something else, on what was recorded. */
@Injectable()
export class WhatIfService {
  constructor(
    private readonly power: PlacePower,
    private readonly tree: InstallationBook,
    private readonly sites: SiteService,
    private readonly thread: ProfileThread,
  ) {}

  /** @throws Problem where a place is not there, nothing measures it, or what is asked cannot be */
  async of(nodeId: number, input: WhatIfInput): Promise<PlaceWhatIf> {
    const {
      from,
      to,
      change,
      hours,
      times,
      roof,
      store,
      storePower: power,
      storeEfficiency: efficiency,
    } = input;
    if (to <= from) throw invalidField('to', 'The end lies before the start.');
    if (change === 'hours' && hours < 0) throw invalidField('hours', 'Not below zero.');
    if (roof > 0 && input.like === null && input.hoursOfYear === null)
      throw invalidField(
        'like',
        'Choose a plant that shows how much it gives, or a file with the hours of a year.',
      );
    const supplyId = this.supplyOf(nodeId);
    const others = {
      supply: supplyId,
      instead: change === 'instead' ? input.instead : null,
      like: roof > 0 && input.hoursOfYear === null ? input.like : null,
    };
    const asked = [nodeId, ...Object.values(others).filter((id) => id !== null)];
    const ids = [...new Set(asked)];
    const spans = await this.power.spans(ids, from, to);
    const of = (id: number | null) => (id === null ? null : (spans[ids.indexOf(id)] as PowerSpans));
    const load = of(nodeId) as PowerSpans;
    const { timeZone, closedDays, holidays } = await this.sites.require();
    const sun =
      roof === 0
        ? null
        : input.hoursOfYear !== null
          ? sunOfHours(load, hoursIn(input.hoursOfYear), timeZone).map((w) => (w * roof) / 1000)
          : this.sunLike(of(others.like) as PowerSpans, input.like as number, roof / input.likePeak);
    const answer = await this.thread.work('whatIf', {
      load,
      change: this.changeOf(change, hours, of(others.instead), times),
      supply: of(supplyId),
      sun,
      store: store > 0 ? { capacity: store, power, efficiency } : null,
      zone: timeZone,
      closing: { closedDays, holidays },
    });
    if ('cannot' in answer) throw invalidField('change', answer.cannot);
    const { start, step, length } = load;
    const isSummed = supplyId !== null && this.power.partsOf(supplyId).length > 1;
    return { ...answer, nodeId, supplyId, isSummed, from: start, to: start + length * step, step };
  }

  private changeOf(
    kind: WhatIfInput['change'],
    hours: number,
    instead: PowerSpans | null,
    times: number,
  ): LoadChange {
    switch (kind) {
      case 'instead':
        return { kind, watts: (instead as PowerSpans).mean.map((w) => w * times) };
      case 'hours':
      case 'later':
        return { kind, hours };
      default:
        return { kind };
    }
  }

  /** What is given is below zero where it is measured. @throws Problem where it gave nothing */
  private sunLike({ mean }: PowerSpans, nodeId: number, times: number): Float64Array {
    if (!mean.some((w) => w < 0))
      throw invalidField('like', `“${this.tree.node(nodeId)?.name}” gave no power in this period.`);
    return mean.map((w) => Math.max(0, -w) * times);
  }

  /** The supply above a place, where something measures it; the place itself where it is one. */
  private supplyOf(nodeId: number): number | null {
    let node = this.tree.node(nodeId);
    if (!node) throw notFound('place in the installation', nodeId);
    while (node.parentId !== null) {
      const above = this.tree.node(node.parentId);
      if (!above) break;
      node = above;
    }
    return this.power.isMeasured(node.id) ? node.id : null;
  }
}

/** @throws Problem where it is no text with the hours of a year */
function hoursIn(text: string): number[] {
  const found = hoursOfFile(text);
  if ('fault' in found) throw invalidField('hoursOfYear', found.fault);
  return found.hours;
}
