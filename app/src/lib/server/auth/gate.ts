import { createHash, createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import type { Cookies } from '@sveltejs/kit';
import { refuse } from '$lib/api/problems';
import { KEEPER, type Access } from '$lib/api/tokens';
import { log } from '../log';
import { settings } from '../settings';
import { isSecure } from '../http/clients';
import type { Rows, Store } from '../store/store';
import { findPerson, noteSignIn, type StoredPerson } from '../store/people';
import {
  deleteSession,
  findSession,
  insertSession,
  listSessions,
  noteSessionUse,
  type Session,
} from '../store/sessions';
import { isLinkOpen } from '../store/pageLinks';
import { findToken, noteUse } from '../store/tokens';
import { Guesses } from './guesses';
import { isPassword } from './passwords';
import { knownPerson } from './people';
import type { Known } from './provider';

/** Who asks, and what he may. */
interface Visitor {
  who: string;
  access: Access;
}

/** Everybody, where the server is not reached from other machines. */
const LOCAL: Visitor = { who: 'local', access: 'keep' };

/** Browsers keep a cookie of the prefix `__Host-` from other hosts of the same domain, and from connections without TLS. */
const cookieName = (isSecure: boolean): string => (isSecure ? '__Host-jaunty-session' : 'jaunty-session');
const sessionIn = (request: Request, cookies: Cookies): string | undefined =>
  cookies.get(cookieName(isSecure({ request, url: new URL(request.url) })));

const SESSION_MS = 30 * 86_400_000;
const IDLE_MS = settings.JAUNTY_IDLE_HOURS * 3_600_000;
/** A revoked token ends its open streams within this time, on each server. */
const WATCH_EVERY_MS = 1000;
/** How exactly it is told when a token was used last. */
const NOTED_EVERY_MS = 60_000;

export const hashOf = (token: string): string => createHash('sha256').update(token).digest('hex');
export const newToken = (): string => randomBytes(24).toString('base64url');

/** Lets in whoever brings a token, as a program does with each request, or has signed in: with one, by his name, or elsewhere. */
export class Gate {
  private readonly guesses = new Guesses();
  private readonly keeperHash = settings.JAUNTY_TOKEN === undefined ? undefined : hashOf(settings.JAUNTY_TOKEN);
  private readonly noted = new Map<string, number>();
  private readonly watched = new Set<Watched>();
  private watching: ReturnType<typeof setInterval> | undefined;

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
    const session = sessionIn(request, cookies);
    return session === undefined ? undefined : this.bySession(session, { isUse: true });
  }

  /** What the session of a request is ended by; undefined where it brings a token, or none. */
  async sessionOf(request: Request, cookies: Cookies): Promise<string | undefined> {
    const secret = tokenIn(request) === undefined ? sessionIn(request, cookies) : undefined;
    if (secret === undefined) return undefined;
    const found = await this.store.read((rows) => findSession(rows, hashOf(secret), Date.now(), IDLE_MS));
    return found?.id ?? undefined;
  }

  /** Sessions of somebody that have not ended. */
  sessionsOf = (who: string) => this.store.read((rows) => listSessions(rows, who, Date.now(), IDLE_MS));

  /** @throws {Refusal} as `visitor` */
  async byToken(token: string, address: string): Promise<Visitor> {
    const hash = hashOf(token);
    this.refuseGuess(address, hash);
    const found = await this.find(hash);
    if (found) {
      this.guesses.noteRight(address, hash);
      return found;
    }
    const count = this.guesses.noteWrong(address);
    log.warn({ address, count }, 'a wrong token');
    throw refuse('token-needed', 'This token is not known here.');
  }

  private refuseGuess(address: string, hash: string): void {
    const wait = this.guesses.waitFor(address, hash);
    if (wait > 0)
      throw refuse(
        'too-many-guesses',
        `Too many wrong tokens or passwords from this address. Try again in ${Math.ceil(wait / 1000)} seconds.`,
      );
  }

  /** Signs a browser in with a token. @throws {Refusal} as `visitor` */
  async signIn(token: string, { address, cookies, isSecure }: Browser): Promise<Visitor> {
    const visitor = await this.byToken(token, address);
    await this.open({ who: visitor.who, kind: 'token', openedWith: hashOf(token) }, { address, cookies, isSecure });
    return visitor;
  }

  /** Signs somebody in with his name and password. @throws {Refusal} where they are wrong, and where too many came */
  async signInPerson({ name, password }: { name: string; password: string }, browser: Browser): Promise<Visitor> {
    const person = await this.requirePassword(name, password, browser.address);
    await this.open({ who: name, kind: 'person', openedWith: hashOf(person.password!) }, browser);
    return { who: name, access: person.access };
  }

  /**
   * The person of a name and a password. Wrong ones slow down their address, and the name wherever they come from.
   * @throws {Refusal} where they are wrong, and where too many came
   */
  async requirePassword(name: string, password: string, address: string): Promise<StoredPerson> {
    const tried = hashOf(`${name}\0${password}`);
    const named = `name ${name.slice(0, 40)}`;
    this.refuseGuess(address, tried);
    this.refuseGuess(named, tried);
    const person = await this.store.read((rows) => findPerson(rows, { name }));
    if (!(await isPassword(password, person?.password))) {
      const count = this.guesses.noteWrong(address);
      this.guesses.noteWrong(named);
      log.warn({ address, count }, 'a wrong password');
      throw refuse('token-needed', 'The name and the password do not go together.');
    }
    this.guesses.noteRight(address, tried);
    this.guesses.noteRight(named, tried);
    return person!;
  }

  /** Signs somebody in for whom a provider vouches. */
  async signInKnown(known: Known, browser: Browser): Promise<Visitor> {
    const { name, access } = await this.store.write((rows) => knownPerson(rows, known, Date.now() * 1000));
    await this.open({ who: name, kind: 'person', openedWith: hashOf(known.subject) }, browser);
    return { who: name, access };
  }

  private async open(session: Session, { address, cookies, isSecure }: Browser): Promise<void> {
    const secret = newToken();
    const now = Date.now();
    const opening = {
      id: randomBytes(9).toString('base64url'),
      address: address.slice(0, 100),
      now,
      until: now + SESSION_MS,
    };
    await this.store.write(async (rows) => {
      await insertSession(rows, hashOf(secret), session, opening);
      if (session.kind === 'person') await noteSignIn(rows, session.who, Date.now() * 1000);
    });
    const options = { path: '/', httpOnly: true, sameSite: 'strict', secure: isSecure } as const;
    cookies.set(cookieName(isSecure), secret, { ...options, maxAge: SESSION_MS / 1000 });
  }

  /** A new link by which one page is read without a token: the query of its address, and what it is revoked by. */
  linkTo(path: string): { id: string; query: string } {
    const id = randomBytes(9).toString('base64url');
    return { id, query: String(new URLSearchParams({ link: id, seal: sealOf(path, id, this.keeperHash!) })) };
  }

  /** Whether an address is a link to a page that was given out and has not ended. It needs the keeper's token it was made with. */
  async isLinked({ pathname, searchParams }: URL): Promise<boolean> {
    const [id, seal] = [searchParams.get('link'), searchParams.get('seal')];
    if (this.keeperHash === undefined || id === null || seal === null) return false;
    if (!isSame(seal, sealOf(pathname, id, this.keeperHash))) return false;
    const page = Number(pathname.split('/').at(-1));
    return this.store.read((rows) => isLinkOpen(rows, page, id, Date.now() * 1000));
  }

  /**
   * Watches whether the client of an open stream still has the access that it was opened with.
   * @param end  called once when it has not: its token, session or person is gone, or may do something else now
   * @returns what stops watching
   */
  watch(request: Request, cookies: Cookies, access: Access, end: () => void): () => void {
    const [token, session] = [tokenIn(request), sessionIn(request, cookies)];
    if (!this.isShut || (token === undefined && session === undefined)) return () => undefined;
    const one: Watched = { access, end, token: token && hashOf(token), session };
    this.watched.add(one);
    this.watching ??= setInterval(() => void this.endRevoked(), WATCH_EVERY_MS).unref();
    return () => {
      this.watched.delete(one);
      if (this.watched.size > 0) return;
      clearInterval(this.watching);
      this.watching = undefined;
    };
  }

  private async endRevoked(): Promise<void> {
    const answers = new Map<string, Promise<Visitor | undefined>>();
    for (const one of [...this.watched]) {
      const key = one.token ?? one.session!;
      const asked = answers.get(key) ?? (one.token ? this.byHash(one.token) : this.bySession(one.session!));
      answers.set(key, asked);
      try {
        if ((await asked)?.access === one.access) continue;
      } catch (error) {
        log.warn({ err: error }, 'access of open streams could not be checked');
        return; // asked again with the next round
      }
      if (!this.watched.delete(one)) continue;
      one.end();
    }
  }

  async signOut(request: Request, cookies: Cookies): Promise<void> {
    const secret = sessionIn(request, cookies);
    const secure = isSecure({ request, url: new URL(request.url) });
    cookies.delete(cookieName(secure), { path: '/', secure });
    if (secret !== undefined) await this.store.write((rows) => deleteSession(rows, hashOf(secret)));
  }

  /** A session holds as long as the token or the password that it was opened with. */
  private bySession(secret: string, { isUse = false } = {}): Promise<Visitor | undefined> {
    const [hash, now] = [hashOf(secret), Date.now()];
    return this.store.read(async (rows) => {
      const session = await findSession(rows, hash, now, IDLE_MS);
      if (!session) return undefined;
      if (isUse && now - session.usedAt > NOTED_EVERY_MS)
        this.noteLater((writing) => noteSessionUse(writing, hash, now));
      const { who, kind, openedWith } = session;
      if (kind === 'person') {
        const person = await findPerson(rows, { name: who });
        const ways = [person?.password, person?.subject].filter((way) => typeof way === 'string');
        return ways.some((way) => isSame(openedWith, hashOf(way))) ? { who, access: person!.access } : undefined;
      }
      const token =
        who === KEEPER ? { hash: this.keeperHash!, access: 'keep' as const } : await findToken(rows, { name: who });
      return token && isSame(openedWith, token.hash) ? { who, access: token.access } : undefined;
    });
  }

  private async byHash(hash: string): Promise<Visitor | undefined> {
    if (isSame(hash, this.keeperHash!)) return { who: KEEPER, access: 'keep' };
    const token = await this.store.read((rows) => findToken(rows, { hash }));
    return token && { who: token.name, access: token.access };
  }

  private async find(hash: string): Promise<Visitor | undefined> {
    const found = await this.byHash(hash);
    if (!found || found.who === KEEPER) return found;
    const { who: name, access } = found;
    const now = Date.now();
    if (now - (this.noted.get(name) ?? 0) > NOTED_EVERY_MS) {
      this.noted.set(name, now);
      this.noteLater((rows) => noteUse(rows, name, now * 1000));
    }
    return { who: name, access };
  }

  /** Notes a use, which no request waits for. */
  private noteLater(note: (rows: Rows) => Promise<void>): void {
    void this.store
      .write(note)
      .catch((error: unknown) => log.error({ err: error }, 'the use of a token or a session could not be noted'));
  }
}

/** A browser that signs in. */
interface Browser {
  address: string;
  cookies: Cookies;
  isSecure: boolean;
}

/** An open stream of a client. */
interface Watched {
  access: Access;
  end: () => void;
  /** Of its token, or else its session. */
  token: string | undefined;
  session: string | undefined;
}

function tokenIn(request: Request): string | undefined {
  const [scheme, value = ''] = (request.headers.get('authorization') ?? '').split(' ');
  const kind = scheme.toLowerCase();
  if (kind === 'bearer') return value;
  // the password of a user of any name
  return kind === 'basic'
    ? Buffer.from(value, 'base64')
        .toString()
        .replace(/^[^:]*:/, '')
    : undefined;
}

const sealOf = (path: string, link: string, tokenHash: string): string =>
  createHmac('sha256', tokenHash).update(`link ${path}.${link}`).digest('base64url');

function isSame(given: string, wanted: string): boolean {
  const [a, b] = [Buffer.from(given), Buffer.from(wanted)];
  return a.length === b.length && timingSafeEqual(a, b);
}
