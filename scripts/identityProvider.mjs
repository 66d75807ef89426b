import { createHash, createSign, generateKeyPairSync, randomUUID } from 'node:crypto';
import { createServer } from 'node:http';

/* A small stand-in for a provider of OpenID Connect, for tests and for trying out. It lets anybody in under the name he gives. */

/**
 * @param port    0 for one that is free
 * @param client  the only one it knows, with its secret
 * @param forged  the name of a user whose id token is signed by another key
 * @returns its address, and what ends it
 */
export async function startProvider({
  port = 0,
  client = 'ledger',
  secret = 'a-secret-of-the-provider',
  forged = '',
} = {}) {
  const { privateKey, publicKey } = generateKeyPairSync('rsa', { modulusLength: 2048 });
  const other = forged && generateKeyPairSync('rsa', { modulusLength: 2048 }).privateKey;
  const codes = new Map();
  /** Subjects that were signed out here. */
  const ended = [];
  let issuer;
  const encoded = (value) => Buffer.from(JSON.stringify(value)).toString('base64url');
  function signed(claims, key = privateKey) {
    const text = `${encoded({ alg: 'RS256', typ: 'JWT', kid: 'one' })}.${encoded(claims)}`;
    return `${text}.${createSign('RSA-SHA256').update(text).sign(key).toString('base64url')}`;
  }
  const json = (answer, value, status = 200) => {
    answer.writeHead(status, { 'content-type': 'application/json' });
    answer.end(JSON.stringify(value));
  };
  const pages = {
    '/.well-known/openid-configuration': (_, answer) =>
      json(answer, {
        issuer,
        authorization_endpoint: `${issuer}/authorize`,
        token_endpoint: `${issuer}/token`,
        jwks_uri: `${issuer}/keys`,
        end_session_endpoint: `${issuer}/end`,
        response_types_supported: ['code'],
        subject_types_supported: ['public'],
        id_token_signing_alg_values_supported: ['RS256'],
        code_challenge_methods_supported: ['S256'],
      }),
    '/keys': (_, answer) =>
      json(answer, { keys: [{ ...publicKey.export({ format: 'jwk' }), kid: 'one', alg: 'RS256', use: 'sig' }] }),
    // asks for a name, then sends the browser back
    '/authorize': ({ searchParams: asked }, answer) => {
      if (asked.get('client_id') !== client) return json(answer, { error: 'unauthorized_client' }, 400);
      const name = asked.get('name');
      if (!name) {
        const kept = [...asked].map(([key, value]) => `<input type="hidden" name="${key}" value="${escaped(value)}">`);
        answer.writeHead(200, { 'content-type': 'text/html' });
        answer.end(`<!doctype html><title>Stand-in</title><form>${kept.join('')}
          <label>Name <input name="name" required></label> <button>Go on</button></form>`);
        return;
      }
      const code = randomUUID();
      codes.set(code, { name, nonce: asked.get('nonce'), challenge: asked.get('code_challenge') });
      const back = new URL(asked.get('redirect_uri'));
      back.search = String(new URLSearchParams({ code, state: asked.get('state') }));
      answer.writeHead(303, { location: back.href });
      answer.end();
    },
    // signs out whom the id token names, and sends the browser back
    '/end': ({ searchParams: asked }, answer) => {
      const [, claims] = (asked.get('id_token_hint') ?? '').split('.');
      if (asked.get('client_id') !== client || !claims) return json(answer, { error: 'invalid_request' }, 400);
      ended.push(JSON.parse(Buffer.from(claims, 'base64url')).sub);
      answer.writeHead(303, { location: asked.get('post_logout_redirect_uri') });
      answer.end();
    },
    '/token': async (_, answer, request) => {
      let body = '';
      for await (const part of request) body += part;
      const asked = new URLSearchParams(body);
      const known = codes.get(asked.get('code'));
      codes.delete(asked.get('code'));
      const basic = Buffer.from((request.headers.authorization ?? '').replace('Basic ', ''), 'base64').toString();
      const isClient = basic === `${client}:${secret}` || asked.get('client_secret') === secret;
      const challenge = createHash('sha256')
        .update(asked.get('code_verifier') ?? '')
        .digest('base64url');
      if (!isClient || !known || known.challenge !== challenge) return json(answer, { error: 'invalid_grant' }, 400);
      const now = Math.floor(Date.now() / 1000);
      const claims = { iss: issuer, aud: client, iat: now, exp: now + 300, sub: `id-of-${known.name}` };
      const key = forged && known.name === forged ? other : privateKey;
      const id_token = signed({ ...claims, nonce: known.nonce, preferred_username: known.name }, key);
      json(answer, { access_token: randomUUID(), token_type: 'Bearer', expires_in: 300, id_token });
    },
  };
  const server = createServer((request, answer) => {
    const url = new URL(request.url, issuer);
    const page = Object.hasOwn(pages, url.pathname) ? pages[url.pathname] : undefined;
    if (page) return void page(url, answer, request);
    json(answer, { error: 'not_found' }, 404);
  });
  await new Promise((resolve) => server.listen(port, '127.0.0.1', resolve));
  issuer = `http://127.0.0.1:${server.address().port}`;
  return { issuer, client, secret, ended, end: () => server.close() };
}

const escaped = (text) => text.replaceAll('&', '&amp;').replaceAll('"', '&quot;').replaceAll('<', '&lt;');
