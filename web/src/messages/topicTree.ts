import type { TopicSeen } from '@loka/contract/messages';

/** A level of the tree of topics. */
export interface TopicNode {
  /** Its own level, the last part of the path. */
  level: string;
  path: string;
  /** What was published here itself; null for a level that only leads further. */
  seen: TopicSeen | null;
  children: TopicNode[];
  /** Topics at and below it. */
  topics: number;
}

/** Topics as a tree, sorted by name; those that hold `filter` somewhere in them. */
export function topicTree(topics: readonly TopicSeen[], filter = ''): TopicNode[] {
  const sought = filter.trim().toLowerCase();
  const root: TopicNode = { level: '', path: '', seen: null, children: [], topics: 0 };
  for (const seen of [...topics].sort((a, b) => a.topic.localeCompare(b.topic))) {
    if (!seen.topic.toLowerCase().includes(sought)) continue;
    let node = root;
    const levels = seen.topic.split('/');
    levels.forEach((level, i) => {
      const path = levels.slice(0, i + 1).join('/');
      let child = node.children.find((c) => c.level === level);
      if (!child) node.children.push((child = { level, path, seen: null, children: [], topics: 0 }));
      child.topics++;
      node = child;
    });
    node.seen = seen;
  }
  return root.children;
}

/** A value inside a payload, with the way to it. */
export interface Leaf {
  steps: string[];
  value: string | number | boolean | null;
}

/** All values of a JSON payload in their order; null when it is not JSON with members. */
export function leavesOf(payload: string, most = 400): Leaf[] | null {
  let json: unknown;
  try {
    json = JSON.parse(payload);
  } catch {
    return null;
  }
  if (typeof json !== 'object' || json === null) return null;
  const leaves: Leaf[] = [];
  const walk = (value: unknown, steps: string[]): void => {
    if (leaves.length >= most) return;
    if (typeof value === 'object' && value !== null)
      for (const [key, inner] of Object.entries(value)) walk(inner, [...steps, key]);
    else leaves.push({ steps, value: value as Leaf['value'] });
  };
  walk(json, []);
  return leaves;
}
