import { create, parseDependencies, type FactoryFunctionMap, type MathNode } from 'mathjs/number';

// The parser of mathjs (Apache-2.0) alone: it yields a tree and computes nothing. What the tree may hold is said
// below, and it is evaluated here, so a formula can reach nothing but its own inputs.
const { parse } = create({ parseDependencies: parseDependencies as FactoryFunctionMap }, {});

/** The tree of a formula. */
export type Expression =
  | { kind: 'number'; value: number }
  | { kind: 'name'; name: string }
  | { kind: 'operator'; operator: '+' | '-' | '*' | '/'; left: Expression; right: Expression }
  | { kind: 'negative'; of: Expression }
  | { kind: 'call'; name: FunctionName; of: Expression[] };

const FUNCTIONS = {
  min: (values: number[]) => Math.min(...values),
  max: (values: number[]) => Math.max(...values),
  abs: ([value]: number[]) => Math.abs(value as number),
  first: ([value]: number[]) => value as number,
} satisfies Record<string, (values: number[]) => number>;
export type FunctionName = keyof typeof FUNCTIONS;

/** Stands for the site's nominal voltage: an assumption, so what is computed with it is uncertain. */
export const NOMINAL = 'nominal';

/** Thrown when a text is no formula, or holds something that formulas may not. */
export class FormulaError extends Error {
  override name = 'FormulaError';
}

/** Nodes of a formula, so that nobody brings the server to its knees with one. */
const MOST_NODES = 200;

/** The tree of a formula: numbers, names, + − * /, parentheses, min, max, abs, first. @throws FormulaError */
export function parseFormula(text: string): Expression {
  if (text.trim() === '') throw new FormulaError('Type a formula, for example import - export.');
  if (text.length > 500) throw new FormulaError('A formula has at most 500 characters.');
  let node: MathNode;
  try {
    // The minus of a typeset text is as good as that of a keyboard.
    node = parse(text.replaceAll('−', '-').replaceAll('·', '*').replaceAll('×', '*'));
  } catch (error) {
    throw new FormulaError(`This is not complete: ${(error as Error).message}`);
  }
  let nodes = 0;
  const walk = (n: MathNode): Expression => {
    if (++nodes > MOST_NODES) throw new FormulaError(`A formula has at most ${MOST_NODES} parts.`);
    return expressionOf(n, walk);
  };
  return walk(node);
}

interface AnyNode {
  type: string;
  value?: unknown;
  name?: string;
  op?: string;
  fn?: { name?: string };
  args?: MathNode[];
  content?: MathNode;
  implicit?: boolean;
}

function expressionOf(node: MathNode, walk: (n: MathNode) => Expression): Expression {
  const { type, value, name, op, fn, args = [], content, implicit } = node as unknown as AnyNode;
  if (type === 'ConstantNode' && typeof value === 'number' && Number.isFinite(value))
    return { kind: 'number', value };
  if (type === 'SymbolNode' && name) return { kind: 'name', name };
  if (type === 'ParenthesisNode' && content) return walk(content);
  if (type === 'OperatorNode' && args.length === 1 && (op === '-' || op === '+'))
    return op === '+' ? walk(args[0] as MathNode) : { kind: 'negative', of: walk(args[0] as MathNode) };
  if (implicit) throw new FormulaError(`Between the parts of “${String(node)}” an operator is missing.`);
  if (type === 'OperatorNode' && args.length === 2 && (op === '+' || op === '-' || op === '*' || op === '/'))
    return {
      kind: 'operator',
      operator: op,
      left: walk(args[0] as MathNode),
      right: walk(args[1] as MathNode),
    };
  if (type === 'FunctionNode') {
    const called = fn?.name ?? '';
    if (!Object.hasOwn(FUNCTIONS, called))
      throw new FormulaError(`“${called}” is not known; there are ${Object.keys(FUNCTIONS).join(', ')}.`);
    if (args.length === 0 || (called === 'abs' && args.length !== 1))
      throw new FormulaError(`${called} takes ${called === 'abs' ? 'one value' : 'one value or more'}.`);
    return { kind: 'call', name: called as FunctionName, of: args.map(walk) };
  }
  throw new FormulaError(
    `“${String(node)}” is not part of a formula: numbers, names, + − * /, parentheses, ${Object.keys(FUNCTIONS).join(', ')}.`,
  );
}

/** What is asked of a tree at every second of a past; trees never change. */
interface Known {
  names: readonly string[];
  hasChoice: boolean;
  /** What was chosen, by which names had a reading. */
  chosen: Map<string, Expression>;
}
/** Many inputs that come and go make many of them. */
const MOST_CHOSEN = 256;
const knownOf = new WeakMap<Expression, Known>();

function known(expression: Expression): Known {
  let found = knownOf.get(expression);
  if (!found) {
    found = { names: findNames(expression), hasChoice: findChoice(expression), chosen: new Map() };
    knownOf.set(expression, found);
  }
  return found;
}

/** The names that a formula uses, each once. */
export const namesIn = (expression: Expression): readonly string[] => known(expression).names;

function findNames(expression: Expression): string[] {
  const names = new Set<string>();
  const walk = (e: Expression): void => {
    if (e.kind === 'name') names.add(e.name);
    else if (e.kind === 'operator') [e.left, e.right].forEach(walk);
    else if (e.kind === 'negative') walk(e.of);
    else if (e.kind === 'call') e.of.forEach(walk);
  };
  walk(expression);
  return [...names];
}

/** Whether a formula has a `first` in it, so that it need not have all its inputs. */
export const hasChoice = (expression: Expression): boolean => known(expression).hasChoice;

function findChoice(expression: Expression): boolean {
  switch (expression.kind) {
    case 'number':
    case 'name':
      return false;
    case 'negative':
      return findChoice(expression.of);
    case 'operator':
      return findChoice(expression.left) || findChoice(expression.right);
    case 'call':
      return expression.name === 'first' || expression.of.some(findChoice);
  }
}

/**
 * A formula with every `first` replaced by the first of its values whose names all have a reading; by its last one, where
 * none has.
 */
export function chosen(expression: Expression, has: (name: string) => boolean): Expression {
  const { names, hasChoice, chosen } = known(expression);
  if (!hasChoice) return expression;
  const which = names.map((name) => (has(name) ? '1' : '0')).join('');
  let found = chosen.get(which);
  if (!found) {
    if (chosen.size >= MOST_CHOSEN) chosen.clear();
    chosen.set(which, (found = choose(expression, has)));
  }
  return found;
}

function choose(expression: Expression, has: (name: string) => boolean): Expression {
  switch (expression.kind) {
    case 'number':
    case 'name':
      return expression;
    case 'negative':
      return { ...expression, of: choose(expression.of, has) };
    case 'operator':
      return { ...expression, left: choose(expression.left, has), right: choose(expression.right, has) };
    case 'call': {
      const of = expression.of.map((e) => choose(e, has));
      if (expression.name !== 'first') return { ...expression, of };
      return of.find((e) => namesIn(e).every(has)) ?? (of.at(-1) as Expression);
    }
  }
}

/** The value of a formula; NaN when a name has none, infinite when something is divided by zero. */
export function evaluate(expression: Expression, values: ReadonlyMap<string, number>): number {
  switch (expression.kind) {
    case 'number':
      return expression.value;
    case 'name':
      return values.get(expression.name) ?? NaN;
    case 'negative':
      return -evaluate(expression.of, values);
    case 'call':
      return FUNCTIONS[expression.name](expression.of.map((e) => evaluate(e, values)));
    case 'operator': {
      const left = evaluate(expression.left, values);
      const right = evaluate(expression.right, values);
      switch (expression.operator) {
        case '+':
          return left + right;
        case '-':
          return left - right;
        case '*':
          return left * right;
        case '/':
          return left / right;
      }
    }
  }
}
