import type { Dependent } from '@loka/contract/dependents';
import type { CutOffRule } from '@loka/core/control';
import { feedsIn } from '@loka/core/installation';
import type { Quantity } from '@loka/core/quantities';
import { holdOf } from '@loka/core/series';
import { Injectable } from '@nestjs/common';
import { DeviceBook, type KnownPoint } from '../book/deviceBook.js';
import { InstallationBook } from '../book/installationBook.js';
import { SwitchBook } from '../book/switchBook.js';
import type { CutOffRuleEntity } from './control.entity.js';
import { SwitchesService } from './switches.service.js';

/** Of these the sign says how the clamp sits, not which way something flows that could not flow the other way. */
const WITHOUT_DIRECTION: readonly Quantity[] = ['current', 'apparent-power'];

/** What a cut-off rule rests on: the point that it watches and the switch that it opens. */
@Injectable()
export class CutOffBasis {
  constructor(
    private readonly book: SwitchBook,
    private readonly devices: DeviceBook,
    private readonly tree: InstallationBook,
    private readonly switches: SwitchesService,
  ) {}

  /** The rule as core knows it; null where what it rests on is no longer there. */
  ruleOf(entity: CutOffRuleEntity): CutOffRule | null {
    const point = this.devices.point(entity.pointId);
    if (!point || this.missingOf(entity) !== null) return null;
    return { ...entity, magnitude: this.isMagnitude(point), holdMs: holdOf(intervalOf(point)) };
  }

  /** What of it is no longer there, in words. */
  missingOf({ pointId, switchId }: CutOffRuleEntity): string | null {
    const absence = this.devices.absence(pointId);
    if (absence) return `The reading that it watches ${absence}`;
    const entity = this.book.get(switchId);
    return entity ? this.switches.missingOf(entity) : 'Its switch is no longer there';
  }

  /** The rule as something that rests on some of these points, or null. */
  restsOn(ids: ReadonlySet<number>, { id, pointId, switchId }: CutOffRuleEntity): Dependent | null {
    const { name, commandPointId, statePointId } = this.book.get(switchId) ?? {};
    const rests = [pointId, commandPointId, statePointId].some((p) => p !== undefined && ids.has(p));
    return rests
      ? { kind: 'cut-off', id, name: name ?? 'a switch', does: 'the load is no longer protected' }
      : null;
  }

  /** Whether the sign of a reading says nothing about its load. */
  private isMagnitude({ definition: { quantity }, nodeId }: KnownPoint): boolean {
    if (quantity !== 'active-power') return WITHOUT_DIRECTION.includes(quantity);
    const node = nodeId === null ? undefined : this.tree.node(nodeId);
    if (!node) return false;
    const there = this.devices.allPoints().filter((p) => p.nodeId === nodeId);
    return !feedsIn(
      node,
      there.map((p) => ({ quantity: p.definition.quantity, phase: p.phase })),
    );
  }
}

/** How often a point is read, ms. */
export const intervalOf = ({ definition }: KnownPoint): number => definition.intervalMs;
