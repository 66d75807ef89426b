import type { Access, Token } from '$lib/api/tokens';
import { rfc3339 } from '@jaunty-ledger/core';
import { isNameTaken } from './people';
import { KeyTakenError, type Rows } from './store';

interface TokenRow {
  name: string;
  hash: string;
  access: Access;
  made_at: number;
  used_at: number | null;
}

/** A token as the server knows it. */
interface StoredToken extends Token {
  hash: string;
}

export async function listTokens(rows: Rows): Promise<Token[]> {
  return (await rows<TokenRow>('access_token').orderBy('name')).map(({ hash: _, ...row }) => toToken(row));
}

export async function findToken(rows: Rows, by: { name: string } | { hash: string }): Promise<StoredToken | undefined> {
  const row = await rows<TokenRow>('access_token').where(by).first();
  return row && { ...toToken(row), hash: row.hash };
}

/** @throws {KeyTakenError} where a token or a person has the name already */
export async function insertToken(
  rows: Rows,
  { name, hash, access }: Pick<StoredToken, 'name' | 'hash' | 'access'>,
  madeAt: number,
): Promise<Token> {
  if (await isNameTaken(rows, name)) throw new KeyTakenError('a token or a person has the name already');
  const row = { name, hash, access, made_at: madeAt, used_at: null };
  await rows<TokenRow>('access_token').insert(row);
  return toToken(row);
}

export async function noteUse(rows: Rows, name: string, at: number): Promise<void> {
  await rows<TokenRow>('access_token').where({ name }).update({ used_at: at });
}

/** Takes a token back: whoever has it, or is signed in by it, is let in no more. */
export async function deleteToken(rows: Rows, name: string): Promise<boolean> {
  return (await rows<TokenRow>('access_token').where({ name }).delete()) > 0;
}

const toToken = ({ name, access, made_at, used_at }: Omit<TokenRow, 'hash'>): Token => ({
  name,
  access,
  madeAt: rfc3339(made_at),
  usedAt: used_at === null ? null : rfc3339(used_at),
});
