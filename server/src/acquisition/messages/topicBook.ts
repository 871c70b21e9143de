import type { TopicSeen, TopicsSeen } from '@loka/contract/messages';
import { median } from 'd3-array';

/** A broker may carry a million topics; this many are looked at, and the rest is counted. */
export const MOST_TOPICS = 5000;
const LONGEST_SHOWN = 4000;

interface Seen extends TopicSeen {
  gaps: number[];
}

/** What has been published on the topics of a link, as much of it as may be kept. */
export class TopicBook {
  private readonly topics = new Map<string, Seen>();
  private more = 0;
  private refused = { count: 0, last: null as string | null };

  note(topic: string, payload: string, retained: boolean, at = Date.now()): void {
    const before = this.topics.get(topic);
    if (!before && this.topics.size >= MOST_TOPICS) {
      this.more++;
      return;
    }
    const shown = payload.length > LONGEST_SHOWN ? `${payload.slice(0, LONGEST_SHOWN)}…` : payload;
    // What was retained came nobody knows when; a clock set back tells nothing either.
    const isGap = before !== undefined && !before.retained && at > before.at;
    const gaps = isGap ? [...before.gaps.slice(-9), at - before.at] : (before?.gaps ?? []);
    this.topics.set(topic, {
      topic,
      payload: shown,
      cut: shown !== payload,
      at,
      count: (before?.count ?? 0) + 1,
      // One pause must not make a quick topic a slow one.
      everyMs: median(gaps) ?? null,
      retained,
      gaps,
    });
  }

  refuse(reason: string): void {
    this.refused = { count: this.refused.count + 1, last: reason };
  }

  seen(fault: string | null): TopicsSeen {
    const topics = [...this.topics.values()].map(({ gaps: _, ...topic }) => topic);
    return { topics, more: this.more, refused: this.refused, fault };
  }
}
