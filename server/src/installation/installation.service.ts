import { isReadable } from '@loka/core/points';
import type { InstallationNode, NodeInput } from '@loka/contract/installation';
import {
  feedsIn,
  jobDone,
  linesIn,
  mayHangBelow,
  phasesIn,
  proposedPurpose,
  type Purpose,
} from '@loka/core/installation';
import { quantityInfo } from '@loka/core/quantities';
import { isFresh, isUsable } from '@loka/core/series';
import { Injectable } from '@nestjs/common';
import { CorrectionBook } from '../series/correctionBook.js';
import { DerivedPoints } from '../series/derivedPoints.js';
import { WiringBook } from '../book/wiringBook.js';
import { SwitchBook } from '../book/switchBook.js';
import { DeviceBook, type KnownPoint } from '../book/deviceBook.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { LiveReadings } from '../live/liveReadings.js';
import { changeVersioned } from '../book/versioned.js';
import { invalidField, notFound, Problem } from '../problem/errors.js';
import { SampleStore } from '../series/sampleStore.js';
import { SiteService } from '../site/site.service.js';
import { InstallationBook } from '../book/installationBook.js';
import { InstallationNodeEntity } from '../book/installationNode.entity.js';
import { currentPointsOf, powerPointsOf } from '../book/nodePoints.js';

/** The tree: supply, boards, ways and loads, with what measures each and how far its job is. */
@Injectable()
export class InstallationService {
  constructor(
    private readonly tree: InstallationBook,
    private readonly devices: DeviceBook,
    private readonly corrections: CorrectionBook,
    private readonly switches: SwitchBook,
    private readonly wiring: WiringBook,
    private readonly live: LiveReadings,
    private readonly store: SampleStore,
    private readonly derived: DerivedPoints,
    private readonly changes: ChangeFeed,
    private readonly sites: SiteService,
  ) {}

  list(): InstallationNode[] {
    const points = this.devices.allPoints();
    return this.tree.all().map((node) =>
      this.toNode(
        node,
        points.filter((p) => p.nodeId === node.id),
      ),
    );
  }

  async create(input: NodeInput): Promise<InstallationNodeEntity> {
    await this.checkLines(input);
    this.check(input);
    const position = 1 + Math.max(0, ...this.tree.all().map((n) => n.position));
    const node = await this.tree.rows.save({ ...plain(input), version: 1, position });
    return this.after(node);
  }

  async update(id: number, input: NodeInput): Promise<InstallationNodeEntity> {
    const before = this.tree.node(id);
    if (!before) throw notFound('place in the installation', id);
    if (before.kind !== input.kind || before.parentId !== (input.parentId ?? null))
      throw invalidField('parentId', 'A place cannot be moved; add a new one where it should be.');
    await this.checkLines(input);
    return this.after(
      await this.tree.rows.manager.transaction((tables) =>
        changeVersioned(tables, InstallationNodeEntity, { id }, plain(input), {
          what: 'place in the installation',
        }),
      ),
    );
  }

  async remove(id: number): Promise<void> {
    const node = this.tree.node(id);
    if (!node) throw notFound('place in the installation', id);
    const below = this.tree.childrenOf(id).length;
    if (below > 0)
      throw new Problem(
        'not-empty',
        `${below} more hang${below === 1 ? 's' : ''} below “${node.name}”. Remove those first.`,
      );
    if (this.switches.ofNode(id))
      throw new Problem('has-switch', `“${node.name}” has a switch. Remove that first.`);
    await this.tree.rows.delete(id);
    await this.devices.reload();
    await this.after(node);
  }

  private async checkLines({ phases }: NodeInput): Promise<void> {
    const system = (await this.sites.get())?.supplySystem ?? 'three-phase';
    if (!(phasesIn(system) as readonly string[]).includes(phases))
      throw invalidField('phases', `This supply has the lines ${linesIn(system).join(' and ')}.`);
  }

  private check(input: NodeInput): void {
    if (input.kind === 'supply') {
      if (this.tree.all().some((n) => n.kind === 'supply'))
        throw invalidField('kind', 'The site has its supply already.');
      return;
    }
    const parent = input.parentId === null ? undefined : this.tree.node(input.parentId);
    if (!parent) throw invalidField('parentId', 'Choose what it hangs on.');
    if (!mayHangBelow(input.kind, parent.kind))
      throw invalidField('parentId', `A ${input.kind} cannot hang on a ${parent.kind}.`);
    const twin = this.tree
      .childrenOf(parent.id)
      .find((n) => n.way !== '' && n.way === input.way && n.kind === input.kind);
    if (twin)
      throw invalidField(
        'way',
        `${input.kind === 'circuit' ? 'Way' : 'Mark'} ${input.way} is “${twin.name}” already.`,
      );
  }

  private async after(node: InstallationNodeEntity): Promise<InstallationNodeEntity> {
    await this.tree.reload();
    this.changes.say('installation');
    return node;
  }

  /** What a circuit or load is taken to be for, until somebody says it. */
  private proposed(node: InstallationNodeEntity, points: readonly KnownPoint[]): Purpose | null {
    if (node.kind !== 'circuit' && node.kind !== 'load') return null;
    const parent = node.parentId === null ? undefined : this.tree.node(node.parentId);
    const above = node.kind === 'load' && parent?.kind === 'circuit' ? [parent.name] : [];
    return proposedPurpose(
      [node.name, ...above],
      points.map((p) => ({ quantity: p.definition.quantity, phase: p.phase })),
    );
  }

  private toNode(node: InstallationNodeEntity, points: KnownPoint[]): InstallationNode {
    const now = Date.now();
    // A relay switches the circuit but does not measure it.
    const read = points.filter(
      (p) => isReadable(p.definition) && quantityInfo(p.definition.quantity).kind !== 'state',
    );
    const fresh = (p: KnownPoint, t: number | null | undefined) =>
      t !== null && t !== undefined && isFresh(t, now, p.definition.intervalMs);
    const answering = read.filter((p) => {
      const reading = this.live.get(p.id);
      return reading && isUsable(reading.q) && fresh(p, reading.t);
    });
    return {
      ...node,
      powerPointIds: powerPointsOf(points).map((p) => p.id),
      currentPointIds: currentPointsOf(points).map((p) => p.id),
      feedsIn: feedsIn(
        node,
        points.map((p) => ({ quantity: p.definition.quantity, phase: p.phase })),
      ),
      purposeShown: node.purpose ?? this.proposed(node, points),
      switchId: this.switches.ofNode(node.id)?.id ?? null,
      wiringFault: this.wiring.fault(node.id)?.says ?? null,
      wiringFaultSince: this.wiring.fault(node.id)?.since ?? null,
      job: jobDone({
        verified: this.wiring.isVerified(node.id),
        points: read.length,
        answering: answering.length,
        calibrated: points.some((p) => this.corrections.has(p.id)),
        // What is computed is stored minute by minute, after its inputs.
        stored: read.filter((p) =>
          this.derived.isDerived(p.id) ? answering.includes(p) : fresh(p, this.store.newestStored(p.id)),
        ).length,
      }),
    };
  }
}

/** What the form may set; an optional member that is missing is none. */
const plain = (input: NodeInput) => ({
  ...input,
  parentId: input.parentId ?? null,
  protectiveDevice: input.protectiveDevice ?? null,
  ratedCurrent: input.ratedCurrent ?? null,
  flow: input.flow ?? null,
  ratedPower: input.ratedPower ?? null,
  powerFactor: input.powerFactor ?? null,
  purpose: input.purpose ?? null,
  storageCapacity: input.storageCapacity ?? null,
});
