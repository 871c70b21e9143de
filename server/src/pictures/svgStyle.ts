/** What an element of a name, an id and classes may refer to by the style sheets of its picture. */
export type StyleRefs = (name: string, id: string, classes: string) => string[];

/** The ids that a text of CSS refers to. */
export const refsIn = (css: string): string[] =>
  [...css.matchAll(/url\(\s*["']?\s*#([^"')]+?)\s*["']?\s*\)/gi)].map(([, id]) => id as string);

/**
 * What elements refer to by rules of a style sheet. Each selector counts by the names in its last part, whatever else it
 * asks for: an element is taken to be met by more rules than it is, never by fewer.
 */
export function stylesOf(css: string): StyleRefs {
  const rules = new Map<string, string[]>();
  for (const [, selectors = '', body = ''] of css
    .replace(/\/\*[^]*?\*\//g, '')
    .matchAll(/([^{}]*)\{([^{}]*)\}/g)) {
    const refs = refsIn(body);
    if (refs.length === 0) continue;
    for (const selector of selectors.split(',')) {
      const last =
        selector
          .trim()
          .split(/[\s>+~]+/)
          .at(-1) ?? '';
      const names = last.replace(/\[[^\]]*\]|::?[\w-]+(?:\([^)]*\))?/g, '').match(/[.#]?[\w-]+/g) ?? ['*'];
      for (const name of names) rules.set(name, [...(rules.get(name) ?? []), ...refs]);
    }
  }
  return (name, id, classes) =>
    rules.size === 0
      ? []
      : ['*', name, `#${id}`, ...classes.split(/\s+/).map((c) => `.${c}`)].flatMap(
          (key) => rules.get(key) ?? [],
        );
}
