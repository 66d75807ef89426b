import type { Cookies } from '@sveltejs/kit';
import * as openid from 'openid-client';
import { z } from 'zod';
import { refuse } from '$lib/api/problems';
import { log } from '../log';
import { settings } from '../settings';

/** What is remembered of somebody who is on his way to the provider and back. */
const COOKIE = 'jaunty-provider';
const ON_THE_WAY_SECONDS = 600;
/** The id token of the last sign-in: the provider is shown it on sign-out, so that it knows whom to sign out. */
const TOKEN_COOKIE = 'jaunty-provider-token';
/** Browsers drop cookies of 4096 bytes and more. */
const MOST_COOKIE_BYTES = 3900;
const TOKEN_SECONDS = 30 * 24 * 3600;
const OnTheWay = z.object({ verifier: z.string(), state: z.string(), nonce: z.string(), to: z.string() });

/** Who somebody is, by the word of the provider. */
export interface Known {
  /** Unlike any other's, whatever he is called. */
  subject: string;
  /** What he may be called here. */
  name: string;
}

const { JAUNTY_OIDC_ISSUER: issuer, JAUNTY_OIDC_CLIENT: client, JAUNTY_OIDC_SECRET: secret } = settings;

/** Whether people are signed in by a provider elsewhere, by OpenID Connect. */
export const hasProvider = issuer !== undefined && client !== undefined;
/** What the provider is called on the page. */
export const providerName = issuer === undefined ? '' : new URL(issuer).hostname;

let known: Promise<openid.Configuration> | undefined;

/** What the provider tells of itself: asked when it is needed first, and again after it did not answer. */
function configuration(): Promise<openid.Configuration> {
  const isPlain = issuer!.startsWith('http:');
  known ??= openid
    .discovery(new URL(issuer!), client!, secret, undefined, {
      // the signature of the id token is checked in any case, not only where it comes by way of the browser
      execute: [openid.enableNonRepudiationChecks, ...(isPlain ? [openid.allowInsecureRequests] : [])],
    })
    .catch((error: unknown) => {
      known = undefined;
      log.warn({ err: error }, 'the provider of sign-in does not answer');
      throw refuse(
        'store-busy',
        `${providerName}, which signs people in, does not answer. Try again in a moment.`,
        {},
        { cause: error },
      );
    });
  return known;
}

const callbackOf = (origin: string): string => `${origin}/signin/provider`;

/** Where to send somebody who wants to sign in. @param to  the page that he comes back to */
export async function wayThere(origin: string, to: string, cookies: Cookies, isSecure: boolean): Promise<URL> {
  const found = await configuration();
  const verifier = openid.randomPKCECodeVerifier();
  const [state, nonce] = [openid.randomState(), openid.randomNonce()];
  cookies.set(COOKIE, Buffer.from(JSON.stringify({ verifier, state, nonce, to })).toString('base64url'), {
    // he comes back from a page of another site
    ...{ path: '/signin', httpOnly: true, sameSite: 'lax', secure: isSecure, maxAge: ON_THE_WAY_SECONDS },
  });
  return openid.buildAuthorizationUrl(found, {
    redirect_uri: callbackOf(origin),
    scope: 'openid profile',
    code_challenge: await openid.calculatePKCECodeChallenge(verifier),
    code_challenge_method: 'S256',
    state,
    nonce,
  });
}

/** Who has come back from the provider, and where he wanted to go. @throws {Refusal} where the provider does not vouch for him */
export async function comeBack(
  url: URL,
  origin: string,
  cookies: Cookies,
  isSecure: boolean,
): Promise<Known & { to: string }> {
  const noted = cookies.get(COOKIE);
  cookies.delete(COOKIE, { path: '/signin' });
  try {
    const { verifier, state, nonce, to } = OnTheWay.parse(
      JSON.parse(Buffer.from(noted ?? '', 'base64url').toString() || 'null'),
    );
    const found = await configuration();
    const current = new URL(callbackOf(origin) + url.search);
    const checks = { pkceCodeVerifier: verifier, expectedState: state, expectedNonce: nonce, idTokenExpected: true };
    const tokens = await openid.authorizationCodeGrant(found, current, checks);
    const claims = tokens.claims()!;
    const names = [claims.preferred_username, claims.email, claims.name, claims.sub];
    const name = names.find((one) => typeof one === 'string' && one !== '') as string;
    // without the cookie nobody is offered to sign out there
    if (found.serverMetadata().end_session_endpoint !== undefined) {
      const idToken = tokens.id_token!.length > MOST_COOKIE_BYTES ? '' : tokens.id_token!;
      const options = { path: '/signin', httpOnly: true, sameSite: 'strict', secure: isSecure } as const;
      cookies.set(TOKEN_COOKIE, idToken, { ...options, maxAge: TOKEN_SECONDS });
    }
    return { subject: `${claims.iss} ${claims.sub}`, name, to };
  } catch (error) {
    log.warn({ err: error }, 'a sign-in by the provider failed');
    throw refuse('not-allowed', `${providerName} did not sign you in. Try again.`, {}, { cause: error });
  }
}

/** Whether a browser has signed in by the provider, which offers to sign out. It asks nothing of the provider. */
export const canSignOutThere = (cookies: Cookies): boolean => hasProvider && cookies.get(TOKEN_COOKIE) !== undefined;

/**
 * Where a browser signs out at the provider as well (OpenID Connect RP-Initiated Logout 1.0); it is signed out there once.
 * @throws {Refusal} if the provider does not answer; then it can be tried again
 */
export async function wayOut(origin: string, cookies: Cookies): Promise<URL> {
  const idToken = cookies.get(TOKEN_COOKIE);
  const address = openid.buildEndSessionUrl(await configuration(), {
    post_logout_redirect_uri: `${origin}/signin`,
    ...(idToken && { id_token_hint: idToken }),
  });
  cookies.delete(TOKEN_COOKIE, { path: '/signin' });
  return address;
}
