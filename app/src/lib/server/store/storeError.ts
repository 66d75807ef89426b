import { postgresError } from './postgres/postgresErrors';
import { sqliteError } from './sqlite/sqliteErrors';

/** An error of whatever the store is made of as one of the store; any other as it is. */
export const storeError = (error: unknown): unknown => postgresError(sqliteError(error));
