import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { freePort } from '../servedApp';

/* The configuration that docs/proxy.conf offers for nginx, run as it is but for addresses and shorter waits. */

const hasNginx = spawnSync('nginx', ['-v']).status === 0;
const FILE = readFileSync(new URL('../../docs/proxy.conf', import.meta.url), 'utf8');

describe.skipIf(!hasNginx)('the proxy of the docs', () => {
  const folder = mkdtempSync(join(tmpdir(), 'jaunty-proxy-'));
  let frozen: Server;
  let working: Server;
  let nginx: ChildProcess;
  let origin: string;
  let frozenRequests = 0;
  beforeAll(async () => {
    frozen = createServer(() => frozenRequests++); // never answers
    working = createServer((request, response) => {
      const isDescription = request.url === '/api/openapi.json';
      response.writeHead(isDescription ? 404 : 200, { 'x-host': request.headers.host });
      response.flushHeaders();
      if (request.url!.endsWith('/follow')) setTimeout(() => response.end('after a long silence'), 4000);
      else response.end('answered');
    });
    const portOf = (server: Server) =>
      new Promise<number>((done) => server.listen(0, '127.0.0.1', () => done((server.address() as AddressInfo).port)));
    const [first, second, port] = [await portOf(frozen), await portOf(working), await freePort()];
    const here = FILE.replace('first:4180', `127.0.0.1:${first}`)
      .replace('second:4180', `127.0.0.1:${second}`)
      .replace('listen 80', `listen 127.0.0.1:${port}`)
      .replaceAll(/proxy_read_timeout (30|150)s/g, 'proxy_read_timeout 2s');
    const paths = ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi'].map(
      (kind) => `${kind}_temp_path ${join(folder, kind)};`,
    );
    const config = `daemon off; pid ${join(folder, 'pid')}; error_log stderr; events {}
      http { access_log off; ${paths.join(' ')}\n${here} }`;
    writeFileSync(join(folder, 'nginx.conf'), config);
    nginx = spawn('nginx', ['-c', join(folder, 'nginx.conf'), '-p', folder], { stdio: 'ignore' });
    origin = `http://127.0.0.1:${port}`;
    await vi.waitUntil(
      () =>
        fetch(`${origin}/`).then(
          ({ ok }) => ok,
          () => false,
        ),
      { timeout: 20_000, interval: 100 },
    );
  });
  afterAll(() => {
    nginx.kill();
    for (const server of [frozen, working]) {
      server.closeAllConnections();
      server.close();
    }
    rmSync(folder, { recursive: true, force: true });
  });

  it('asks the other server where one is frozen, and leaves that one alone afterwards', async () => {
    for (let request = 0; request < 12; request++)
      expect(await (await fetch(`${origin}/records`)).text()).toBe('answered');
    expect(frozenRequests).toBeLessThanOrEqual(2);
  });

  it('passes on the host with its port, and lets a follower be silent for longer than a page', async () => {
    const answer = await fetch(`${origin}/follow-me/api/tapes/KELP`);
    expect(answer.headers.get('x-host')).toBe(new URL(origin).host);
    expect(await (await fetch(`${origin}/api/tapes/KELP/follow`)).text()).toBe('after a long silence');
  });
});
