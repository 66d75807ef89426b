import { ArgumentError, requireSameLength } from '../arguments.js';
import { simpleReturn } from '../returns/moves.js';
import { isFinite } from '../windows/anchoredSums.js';

const BASE = 100;

/**
 * A column on a scale where one of its rows is 100.
 * @param row  that row; the first one with a value without. All is missing where it has none, or is 0
 * @throws {ArgumentError} for a row that there is not
 * @see definitions, section 13
 */
export function rebasedAt(x: Float64Array, row = x.findIndex(isFinite)): Float64Array {
  if (row >= x.length) throw new ArgumentError('row', `a row below ${x.length}`, row);
  const base = row < 0 ? NaN : x[row];
  return x.map((value) => (base === 0 ? NaN : (BASE * value) / base));
}

/**
 * The average of a group, 100 where it begins. `equal` goes by the mean of the members' returns, whoever has one; `held` is the
 * mean of the members rebased on the first row that all have, missing where one is.
 * @throws {ArgumentError} for no member, or members of unequal length
 * @see definitions, section 13
 */
export function groupAverage(members: readonly Float64Array[], by: 'equal' | 'held'): Float64Array {
  if (members.length === 0) throw new ArgumentError('members', 'one at least', 0);
  for (const member of members) requireSameLength('members', member, members[0].length);
  return by === 'equal' ? equalAverage(members) : heldAverage(members);
}

function equalAverage(members: readonly Float64Array[]): Float64Array {
  const rows = members[0].length;
  const index = new Float64Array(rows).fill(NaN);
  const returns = members.map((member) => simpleReturn(member, { rows: 1 }));
  let last = NaN;
  for (let row = 0; row < rows; row++) {
    if (Number.isNaN(last)) {
      if (members.some((member) => isFinite(member[row]))) index[row] = last = BASE;
      continue;
    }
    let [sum, count] = [0, 0];
    for (const own of returns) {
      if (!isFinite(own[row])) continue;
      sum += own[row];
      count++;
    }
    if (count > 0) index[row] = last *= 1 + sum / count;
  }
  return index;
}

function heldAverage(members: readonly Float64Array[]): Float64Array {
  const first = members[0].findIndex((_, row) => members.every((member) => isFinite(member[row])));
  if (first < 0) return new Float64Array(members[0].length).fill(NaN);
  const rebased = members.map((member) => rebasedAt(member, first));
  return members[0].map((_, row) => rebased.reduce((sum, member) => sum + member[row], 0) / members.length);
}
