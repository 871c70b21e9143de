/** What has been seen on a topic of a link. */
export interface TopicSeen {
  topic: string;
  /** Last payload, cut where it is long. */
  payload: string;
  cut: boolean;
  /** When it came, UTC ms. */
  at: number;
  count: number;
  /** Mean time between the last ones, ms; null after the first. */
  everyMs: number | null;
  retained: boolean;
}

export interface TopicsSeen {
  topics: TopicSeen[];
  /** Topics that were published as well, beyond what is kept. */
  more: number;
  /** Messages that could not be looked into, with the last reason. */
  refused: { count: number; last: string | null };
  /** Why nothing can be watched. */
  fault: string | null;
}
