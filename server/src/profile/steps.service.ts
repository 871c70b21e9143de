import type { PlaceSteps } from '@loka/contract/profile';
import type { KnownLoad, PowerSpans } from '@loka/core/profile';
import type { StepAsked } from '@loka/contract/verify';
import { Injectable } from '@nestjs/common';
import { group, mean } from 'd3-array';
import { InstallationBook } from '../book/installationBook.js';
import { invalidField, Problem } from '../problem/errors.js';
import { StepTestsService } from '../verify/stepTests.service.js';
import { BY_MINUTES, PlacePower } from './placePower.js';
import { ProfileThread } from './profileThread.js';

/** More steps than these are not told one by one. */
const MOST_STEPS = 500;
/** So many step tests back are looked at. */
const TESTS = 20;

type Known = KnownLoad & { by: 'test' | 'plate' };

/** What was probably on behind a place, by the steps in what nobody meters there. */
@Injectable()
export class StepsService {
  constructor(
    private readonly power: PlacePower,
    private readonly tree: InstallationBook,
    private readonly tests: StepTestsService,
    private readonly thread: ProfileThread,
  ) {}

  /** @throws Problem where the place is not there, nothing measures it, or the period lies in the future or is longer than two months */
  async of(nodeId: number, from: number, to: number): Promise<PlaceSteps> {
    // Of a sum of what is metered nothing is left that is not.
    this.power.partsOf(nodeId);
    if (!this.power.isMeasuredItself(nodeId))
      throw new Problem(
        'nothing-measured',
        'Nothing measures the place itself, so nothing is left over of it.',
      );
    if (to - from > BY_MINUTES)
      throw invalidField('to', 'Steps are looked for minute by minute: choose two months at most.');
    const less = this.tree
      .childrenOf(nodeId)
      .flatMap((child) => this.power.measuredIn(child.id))
      .map((part) => part.nodeId);
    const [own, ...metered] = (await this.power.spans([nodeId, ...less], from, to)) as [
      PowerSpans,
      ...PowerSpans[],
    ];
    const known = await this.knownAt(nodeId);
    const found = await this.thread.work('steps', {
      own,
      metered,
      known: known.map(({ name, watts }) => ({ name, watts })),
    });
    return {
      ...found,
      nodeId,
      from: own.start,
      to: own.start + own.length * own.step,
      step: own.step,
      loads: found.loads.map((load, i) => ({ ...load, by: (known[i] as Known).by })),
      unexplained: found.unexplained.slice(-MOST_STEPS),
      less,
    };
  }

  /** Loads behind it without a meter: as the newest step test found each, else by its plate. */
  private async knownAt(nodeId: number): Promise<Known[]> {
    const known = new Map<string, Known>();
    for (const { steps } of await this.tests.ended(nodeId, TESTS))
      for (const [name, found] of group(steps.filter(isFound), (s) => s.load.name))
        if (!known.has(name))
          known.set(name, { name, watts: mean(found, (s) => Math.abs(s.found.own)) as number, by: 'test' });
    const visit = (id: number) => {
      for (const child of this.tree.childrenOf(id)) {
        if (this.power.isMeasuredItself(child.id)) continue;
        const { name, ratedPower } = child;
        if (ratedPower && !known.has(name)) known.set(name, { name, watts: ratedPower, by: 'plate' });
        else visit(child.id);
      }
    };
    visit(nodeId);
    return [...known.values()];
  }
}

type Found = StepAsked & { found: { own: number } };

/** Whether the step of a load was found, by its power. */
const isFound = (step: StepAsked): step is Found =>
  step.found !== null && step.found !== 'skipped' && step.found.own !== null && step.found.own !== 0;
