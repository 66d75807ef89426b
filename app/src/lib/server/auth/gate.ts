import { createHash, createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import type { Cookies } from '@sveltejs/kit';
import { refuse } from '$lib/api/problems';
import { KEEPER, type Access } from '$lib/api/tokens';
import { log } from '../log';
import { settings } from '../settings';
import type { Store } from '../store/store';
import { findToken, noteUse } from '../store/tokens';
import { Guesses } from './guesses';

/** Who asks, and what he may. */
export interface Visitor {
  who: string;
  access: Access;
}

/** Everybody, where the server is not reached from other machines. */
const LOCAL: Visitor = { who: 'local', access: 'keep' };

const COOKIE = 'jaunty-session';
const SESSION_MS = 30 * 86_400_000;
/** How exactly it is told when a token was used last. */
const NOTED_EVERY_MS = 60_000;

export const hashOf = (token: string): string => createHash('sha256').update(token).digest('hex');
export const newToken = (): string => randomBytes(24).toString('base64url');

/** Lets in whoever brings a token, as a program does with each request, or has signed in with one. */
export class Gate {
  private readonly guesses = new Guesses();
  private readonly keeperHash = settings.JAUNTY_TOKEN === undefined ? undefined : hashOf(settings.JAUNTY_TOKEN);
  private readonly noted = new Map<string, number>();

  constructor(private readonly store: Store) {}

  /** Whether tokens are asked for at all. */
  get isShut(): boolean {
    return this.keeperHash !== undefined;
  }

  /**
   * Who makes a request; undefined for somebody unknown who brings nothing.
   * @throws {Refusal} for a token that is wrong, and where an address has brought too many of them
   */
  async visitor(request: Request, cookies: Cookies, address: string): Promise<Visitor | undefined> {
    if (!this.isShut) return LOCAL;
    const token = tokenIn(request);
    if (token !== undefined) return this.byToken(token, address);
    const session = cookies.get(COOKIE);
    return session === undefined ? undefined : this.bySession(session);
  }

  /** @throws {Refusal} as `visitor` */
  async byToken(token: string, address: string): Promise<Visitor> {
    const hash = hashOf(token);
    const wait = this.guesses.waitFor(address, hash);
    if (wait > 0)
      throw refuse(
        'too-many-guesses',
        `Too many wrong tokens came from this address. Try again in ${Math.ceil(wait / 1000)} seconds.`,
      );
    const found = await this.find(hash);
    if (found) {
      this.guesses.noteRight(address, hash);
      return found;
    }
    const count = this.guesses.noteWrong(address);
    log.warn({ address, count }, 'a wrong token');
    throw refuse('token-needed', 'This token is not known here.');
  }

  /** Signs a browser in. @throws {Refusal} as `visitor` */
  async signIn(token: string, address: string, cookies: Cookies, isSecure: boolean): Promise<void> {
    const { who } = await this.byToken(token, address);
    const until = Date.now() + SESSION_MS;
    cookies.set(COOKIE, `${who}.${until}.${sealOf(who, until, hashOf(token))}`, {
      path: '/',
      httpOnly: true,
      sameSite: 'strict',
      secure: isSecure,
      maxAge: SESSION_MS / 1000,
    });
    log.info({ who, address, act: 'signed in' }, 'signed in');
  }

  /** The query by which one page is read without a token, until a moment. It holds as long as the keeper's token. */
  linkTo(path: string, until: number): string {
    return String(new URLSearchParams({ until: String(until), seal: sealOf(`link ${path}`, until, this.keeperHash!) }));
  }

  /** Whether an address is a link that was given out and has not ended. */
  isLinked({ pathname, searchParams }: URL): boolean {
    const [until, seal] = [Number(searchParams.get('until')), searchParams.get('seal')];
    if (this.keeperHash === undefined || seal === null || !(until > Date.now())) return false;
    return isSame(seal, sealOf(`link ${pathname}`, until, this.keeperHash));
  }

  signOut(cookies: Cookies): void {
    cookies.delete(COOKIE, { path: '/' });
  }

  /** A session holds as long as the token it was opened with. */
  private async bySession(session: string): Promise<Visitor | undefined> {
    const [who, until, seal] = session.split('.');
    if (!(Number(until) > Date.now()) || seal === undefined) return undefined;
    const token =
      who === KEEPER
        ? { hash: this.keeperHash!, access: 'keep' as const }
        : await this.store.read((rows) => findToken(rows, { name: who }));
    if (!token || !isSame(seal, sealOf(who, Number(until), token.hash))) return undefined;
    return { who, access: token.access };
  }

  private async find(hash: string): Promise<Visitor | undefined> {
    if (isSame(hash, this.keeperHash!)) return { who: KEEPER, access: 'keep' };
    const token = await this.store.read((rows) => findToken(rows, { hash }));
    if (!token) return undefined;
    const { name, access } = token;
    const now = Date.now();
    if (now - (this.noted.get(name) ?? 0) > NOTED_EVERY_MS) {
      this.noted.set(name, now);
      void this.store
        .write((rows) => noteUse(rows, name, now * 1000))
        .catch((error: unknown) => log.error({ err: error }, 'the use of a token could not be noted'));
    }
    return { who: name, access };
  }
}

function tokenIn(request: Request): string | undefined {
  const [scheme, value = ''] = (request.headers.get('authorization') ?? '').split(' ');
  if (scheme === 'Bearer') return value;
  // the password of a user of any name
  return scheme === 'Basic'
    ? Buffer.from(value, 'base64')
        .toString()
        .replace(/^[^:]*:/, '')
    : undefined;
}

const sealOf = (who: string, until: number, tokenHash: string): string =>
  createHmac('sha256', tokenHash).update(`${who}.${until}`).digest('base64url');

function isSame(given: string, wanted: string): boolean {
  const [a, b] = [Buffer.from(given), Buffer.from(wanted)];
  return a.length === b.length && timingSafeEqual(a, b);
}
