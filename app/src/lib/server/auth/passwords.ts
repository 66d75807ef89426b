import { randomBytes, scrypt, timingSafeEqual, type ScryptOptions } from 'node:crypto';
import { promisify } from 'node:util';
import { MOST_PASSWORD } from '$lib/api/people';
import { refuse } from '$lib/api/problems';

const scrypted = promisify<string, Buffer, number, ScryptOptions, Buffer>(scrypt);

/* Passwords as they are kept: put through scrypt, which takes some tens of milliseconds and 32 MB for each try. */

const KEPT = { N: 2 ** 15, r: 8, p: 1, length: 32 };

/** Tries that wait for their turn: one is worked out after the other, since each takes a thread that also reads files. */
const MOST_WAITING = 50;
let waiting = 0;
let last: Promise<unknown> = Promise.resolve();

/** @throws {Refusal} where too many wait, or it is longer than any that is kept */
async function derived(password: string, salt: Buffer, { N, r, p, length }: typeof KEPT): Promise<Buffer> {
  if (password.length > MOST_PASSWORD)
    throw refuse('invalid-body', `A password has ${MOST_PASSWORD} characters at most.`);
  if (waiting >= MOST_WAITING) throw refuse('too-busy', 'Too many sign in at once. Try again in a moment.');
  waiting++;
  // one word may be written in several ways
  const own = last.then(() => scrypted(password.normalize('NFKC'), salt, length, { N, r, p, maxmem: 256 * N * r }));
  last = own.catch(() => undefined).finally(() => waiting--);
  return own;
}

/** Passwords that many people have, of 10 characters and more: a list of leaked ones. Loaded when the first is chosen. */
let common: Promise<ReadonlySet<string>> | undefined;

const commonPasswords = (): Promise<ReadonlySet<string>> =>
  (common ??= import('@zxcvbn-ts/language-common').then(({ dictionary }) => new Set(dictionary['passwords-common'])));

/** @throws {Refusal} for a password that is among the first ones to be guessed */
async function requireUncommon(password: string): Promise<void> {
  const plain = password.normalize('NFKC').toLowerCase();
  const isRepeated = /^(.{1,4})\1+$/s.test(plain);
  if (isRepeated || (await commonPasswords()).has(plain))
    throw refuse('invalid-body', 'This password is among the first ones that are guessed. Choose another one.');
}

/** A password as it is kept. @throws {Refusal} for one that is easily guessed */
export async function keptPassword(password: string): Promise<string> {
  await requireUncommon(password);
  return scryptText(password);
}

async function scryptText(password: string): Promise<string> {
  const salt = randomBytes(16);
  const key = await derived(password, salt, KEPT);
  return ['scrypt', KEPT.N, KEPT.r, KEPT.p, salt.toString('base64url'), key.toString('base64url')].join(':');
}

/** Whether a password is the one that is kept; where none is, it takes as long to say so. */
export async function isPassword(given: string, kept: string | null | undefined): Promise<boolean> {
  const [, N, r, p, salt, key] = (kept ?? (await standIn)).split(':');
  const wanted = Buffer.from(key, 'base64url');
  const cost = { N: Number(N), r: Number(r), p: Number(p), length: wanted.length };
  const found = await derived(given, Buffer.from(salt, 'base64url'), cost);
  return timingSafeEqual(found, wanted) && typeof kept === 'string';
}

const standIn = scryptText(randomBytes(16).toString('hex'));
