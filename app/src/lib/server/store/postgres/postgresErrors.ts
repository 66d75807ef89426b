import { KeyTakenError, storeFull } from '../store';

const codeOf = (error: unknown): string => (error instanceof Error && 'code' in error ? String(error.code) : '');

/** Whether a write met another one: it may be tried again as it is. */
export const isConflict = (error: unknown): boolean => ['40001', '40P01'].includes(codeOf(error));

/** Whether a row of the same key is there already. */
export const isTaken = (error: unknown): boolean => codeOf(error) === '23505';

/** Whether another server makes the same table at this moment, or works with it for so long that a step has given up. */
export const isMadeElsewhere = (error: unknown): boolean =>
  isTaken(error) || ['42P07', '42710', '55P03'].includes(codeOf(error));

const AWAY = /^(08|57P0[123]|53300|ECONN|EPIPE|ETIMEDOUT|EHOSTUNREACH|ENETUNREACH|ENOTFOUND|EAI_AGAIN)/;

/** Whether no answer came in the time that is allowed for one. */
export const isLate = (error: unknown): boolean =>
  // the statement stands before it
  error instanceof Error && error.message.endsWith('Query read timeout');

/** Whether the database cannot be reached, or has broken the connection off. */
export const isAway = (error: unknown): boolean =>
  AWAY.test(codeOf(error)) ||
  isLate(error) ||
  (error instanceof Error &&
    (error.name === 'KnexTimeoutError' || /connection (terminated|ended)|not queryable/i.test(error.message))) ||
  (error instanceof AggregateError && error.errors.some(isAway));

/** An error of the database as one of the store; any other as it is. */
export function postgresError(error: unknown): unknown {
  const code = codeOf(error);
  if (code === '53100') return storeFull(error);
  if (isTaken(error)) return new KeyTakenError('a row of the same key is there already', { cause: error });
  return error;
}
