/**
 * What a value is measured in. It decides the lane and the number format, and what may be added to what. A `move` is a
 * difference of prices: it lies about 0, far below them.
 */
export type Unit = 'price' | 'move' | 'units' | 'value' | 'trades' | 'fraction' | 'number' | 'truth';

/** Which bars a value may be drawn over: those of prices, those of volume, or none, since it is on a scale of its own. */
export type Scale = 'price' | 'volume' | 'own';

const SCALES: Readonly<Record<Unit, Scale>> = {
  price: 'price',
  move: 'own',
  units: 'volume',
  trades: 'volume',
  value: 'own',
  fraction: 'own',
  number: 'own',
  truth: 'own',
};

/** The scale that values of a unit share. */
export const scaleOf = (unit: Unit): Scale => SCALES[unit];

/** The unit of the first argument. */
export const unitOfX = (units: readonly Unit[]): Unit => units[0];

/** The unit of a difference of two values, or of how far they spread. */
const differenceOf = (unit: Unit): Unit => (unit === 'price' ? 'move' : unit);

/** The unit of a difference of values of the first argument. */
export const moveOfX = (units: readonly Unit[]): Unit => differenceOf(units[0]);

const isPlain = (unit: Unit): boolean => unit === 'number' || unit === 'fraction' || unit === 'truth';

/** Of a sum; where two units do not go together it is a plain number. */
export function unitOfSum(left: Unit, right: Unit): Unit {
  if (left === right || right === 'number') return left;
  if (left === 'number') return right;
  const isMoved = (left === 'price' && right === 'move') || (left === 'move' && right === 'price');
  return isMoved ? 'price' : 'number';
}

export function unitOfDifference(left: Unit, right: Unit): Unit {
  if (left === 'price' && right === 'price') return 'move';
  // a move less a price is neither
  return left === 'move' && right === 'price' ? 'number' : unitOfSum(left, right);
}

export function unitOfProduct(left: Unit, right: Unit): Unit {
  if ((left === 'price' && right === 'units') || (left === 'units' && right === 'price')) return 'value';
  return isPlain(right) ? left : isPlain(left) ? right : 'number';
}

export function unitOfRatio(left: Unit, right: Unit): Unit {
  if (left === 'value' && right === 'units') return 'price';
  return right === 'number' ? left : 'number';
}
