/** Thrown when a text is no JSON pointer. */
export class PointerError extends Error {
  override name = 'PointerError';
}

/** The steps of a JSON pointer (RFC 6901). @throws PointerError */
export function stepsOf(pointer: string): string[] {
  if (pointer === '') return [];
  if (!pointer.startsWith('/'))
    throw new PointerError(
      `“${pointer}” should begin with /, for example /power/L1; empty means the whole payload`,
    );
  return pointer
    .slice(1)
    .split('/')
    .map((step) => {
      if (/~(?![01])/.test(step))
        throw new PointerError(`in “${step}” a ~ should be written as ~0, a / as ~1`);
      return step.replaceAll('~1', '/').replaceAll('~0', '~');
    });
}

/** A JSON pointer from its steps. */
export const pointerOf = (steps: readonly (string | number)[]): string =>
  steps.map((step) => `/${String(step).replaceAll('~', '~0').replaceAll('/', '~1')}`).join('');

/** What stands at a pointer in a JSON value; undefined where there is nothing. Only own members count. @throws PointerError */
export function at(value: unknown, pointer: string): unknown {
  let here = value;
  for (const step of stepsOf(pointer)) {
    if (Array.isArray(here)) here = /^(0|[1-9]\d*)$/.test(step) ? here[Number(step)] : undefined;
    else if (typeof here === 'object' && here !== null && Object.hasOwn(here, step))
      here = (here as Record<string, unknown>)[step];
    else return undefined;
  }
  return here;
}
