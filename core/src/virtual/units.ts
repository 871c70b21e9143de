import { quantityInfo, type Quantity } from '../quantities/index.js';
import { FormulaError, NOMINAL, type Expression } from './formula.js';

/** Powers of volt, ampere, hour and kelvin. */
type Dimension = readonly [volts: number, amperes: number, hours: number, kelvins: number];
/** A dimension with the unit under which it is known (W, var and VA have one dimension, and are not the same). */
interface Kind {
  dimension: Dimension;
  unit: string | null;
}

const NONE: Dimension = [0, 0, 0, 0];
const OF_UNIT: Record<string, Dimension> = {
  '': NONE,
  '%': NONE,
  V: [1, 0, 0, 0],
  A: [0, 1, 0, 0],
  W: [1, 1, 0, 0],
  var: [1, 1, 0, 0],
  VA: [1, 1, 0, 0],
  Wh: [1, 1, 1, 0],
  Hz: [0, 0, -1, 0],
  '°C': [0, 0, 0, 1],
};

const kindOf = (quantity: Quantity): Kind => {
  const { unit } = quantityInfo(quantity);
  return { dimension: OF_UNIT[unit] ?? NONE, unit };
};

const same = (a: Dimension, b: Dimension): boolean => a.every((power, i) => power === b[i]);
const inWords = ({ dimension, unit }: Kind): string =>
  unit ??
  Object.entries(OF_UNIT).find(([, d]) => same(d, dimension))?.[0] ??
  (['V', 'A', 'h', 'K'] as const)
    .map((name, i) => (dimension[i] ? `${name}${dimension[i] === 1 ? '' : `^${dimension[i]}`}` : ''))
    .filter(Boolean)
    .join('·');

/**
 * Why a formula cannot give the wanted quantity; null when its units agree. Volts are not added to amperes, active
 * power is not added to apparent power; volt times ampere may be called W, var or VA by whoever knows which.
 */
export function unitFault(
  expression: Expression,
  quantities: ReadonlyMap<string, Quantity>,
  wanted: Quantity,
): string | null {
  try {
    const found = walk(expression, quantities);
    const goal = kindOf(wanted);
    if (found === 'number') return goal.unit === '' ? null : `A bare number is not in ${goal.unit}.`;
    if (
      !same(found.dimension, goal.dimension) ||
      (found.unit !== null && goal.unit !== found.unit && found.unit !== '')
    )
      return `This gives ${inWords(found) || 'a number without unit'}, and ${quantityInfo(wanted).label.toLowerCase()} is in ${goal.unit || 'no unit'}.`;
    return null;
  } catch (error) {
    if (error instanceof FormulaError) return error.message;
    throw error;
  }
}

type Found = Kind | 'number';

function walk(e: Expression, quantities: ReadonlyMap<string, Quantity>): Found {
  switch (e.kind) {
    case 'number':
      return 'number';
    case 'name': {
      if (e.name === NOMINAL) return kindOf('voltage');
      const quantity = quantities.get(e.name);
      if (!quantity)
        throw new FormulaError(
          `“${e.name}” is not one of the inputs: ${[...quantities.keys()].join(', ') || 'there are none yet'}.`,
        );
      return kindOf(quantity);
    }
    case 'negative':
      return walk(e.of, quantities);
    case 'call':
      return e.of.map((part) => walk(part, quantities)).reduce((a, b) => joined(a, b, e.name));
    case 'operator': {
      const left = walk(e.left, quantities);
      const right = walk(e.right, quantities);
      if (e.operator === '+' || e.operator === '-')
        return joined(left, right, e.operator === '+' ? 'added to' : 'taken from');
      if (left === 'number')
        return right === 'number' ? 'number' : e.operator === '*' ? right : inverse(right);
      if (right === 'number') return left;
      return product(left, e.operator === '*' ? right : inverse(right));
    }
  }
}

function joined(a: Found, b: Found, how: string): Found {
  if (a === 'number' && b === 'number') return a;
  const [left, right] = [a, b].map((x) => (x === 'number' ? { dimension: NONE, unit: '' } : x)) as [
    Kind,
    Kind,
  ];
  const agree =
    same(left.dimension, right.dimension) &&
    (left.unit === right.unit || left.unit === null || right.unit === null);
  if (!agree) {
    const [l, r] = [inWords(left) || 'a bare number', inWords(right) || 'a bare number'];
    throw new FormulaError(
      how === 'taken from'
        ? `${r} cannot be taken from ${l}.`
        : how === 'added to'
          ? `${l} and ${r} cannot be added.`
          : `${how} of ${l} and ${r} makes no sense.`,
    );
  }
  return { dimension: left.dimension, unit: left.unit ?? right.unit };
}

/** Multiplying by something without unit (a power factor, a share) leaves open what kind of power it becomes. */
const product = (a: Kind, b: Kind): Kind => ({
  dimension: a.dimension.map((power, i) => power + (b.dimension[i] as number)) as unknown as Dimension,
  unit: null,
});
const inverse = (a: Kind): Kind => ({
  dimension: a.dimension.map((power) => 0 - power) as unknown as Dimension,
  unit: null,
});
