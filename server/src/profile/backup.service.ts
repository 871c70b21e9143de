import type { PlacesBackup } from '@loka/contract/backup';
import type { PowerSpans } from '@loka/core/profile';
import { Injectable } from '@nestjs/common';
import { InstallationBook } from '../book/installationBook.js';
import { invalidField } from '../problem/errors.js';
import type { BackupQuery } from './backup.dto.js';
import { PlacePower } from './placePower.js';
import { ProfileThread } from './profileThread.js';

/** Tries a source on what was recorded of some places. */
@Injectable()
export class BackupService {
  constructor(
    private readonly power: PlacePower,
    private readonly tree: InstallationBook,
    private readonly thread: ProfileThread,
  ) {}

  /** @throws Problem where a place is not there, nothing measures it, one lies behind another, or the source can be none */
  async of(query: BackupQuery): Promise<PlacesBackup> {
    const { nodes, from, to, sun, times = 1, lasting, at = null, ...source } = query;
    if (source.peak < source.continuous)
      throw invalidField('peak', 'Its peak is not below what it gives all the time.');
    this.noneBehindAnother(nodes);
    const spans = await this.power.spans(sun === undefined ? nodes : [...nodes, sun], from, to);
    const loads = spans.slice(0, nodes.length);
    // What is given is below zero where it is measured.
    const sunny =
      sun === undefined ? null : (spans.at(-1) as PowerSpans).mean.map((w) => Math.max(0, -times * w));
    if (sunny && times > 0 && !sunny.some((w) => w > 0))
      throw invalidField('sun', `“${this.tree.node(sun as number)?.name}” gave no power in this period.`);
    const answer = await this.thread.work('backup', {
      loads,
      source,
      sun: sunny,
      lasting,
      at,
    });
    const { outages, recurring, ...rest } = answer;
    const [{ start, step, length }] = loads as [PowerSpans];
    return {
      ...rest,
      source,
      lasting,
      from: start,
      to: start + length * step,
      step,
      loads: nodes.map((nodeId, i) => ({
        nodeId,
        readEvery: this.power.readEvery(
          this.power.partsOf(nodeId).flatMap((part) => part.points),
          from,
          to,
        ),
        recurring: recurring[i] ?? [],
        gives: givenShare(loads[i] as PowerSpans),
      })),
      outages: {
        starts: outages.map((o) => o.start),
        lasts: outages.map((o) => o.lasts),
        ends: outages.map((o) => o.ends),
        by: outages.map((o) => o.by),
      },
    };
  }

  /** What lies behind another place is part of its power already. */
  private noneBehindAnother(nodes: readonly number[]): void {
    for (const id of nodes)
      for (
        let up = this.tree.node(id)?.parentId ?? null;
        up !== null;
        up = this.tree.node(up)?.parentId ?? null
      )
        if (nodes.includes(up))
          throw invalidField(
            'nodes',
            `“${this.tree.node(id)?.name}” lies behind “${this.tree.node(up)?.name}” and would count twice. Choose one of them.`,
          );
  }
}

function givenShare({ mean }: PowerSpans): number {
  const known = mean.filter((w) => !Number.isNaN(w));
  return known.length === 0 ? 0 : known.filter((w) => w < -1).length / known.length;
}
