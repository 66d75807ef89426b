import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { KeptPage, ProjectBody } from '$lib/api/pages';
import { PROJECT, projectedOf } from '$lib/project/projectAddress';
import { PageKeeper } from './pageKeeper.svelte';

const body = (more: Partial<ProjectBody> = {}): ProjectBody => ({
  ...projectedOf(new URLSearchParams(), { tape: 'KELP', bars: '1 day' }),
  ...more,
});
const page = (more: Partial<KeptPage> = {}): KeptPage => ({
  ...{ id: 7, title: 'Kelp ahead', version: 1, savedAt: '2026-11-28T10:00:00Z', body: body() },
  ...more,
});

/** A store of one page, as the server answers. */
let stored: KeptPage;
let asked: string[];
let went: string[];

const answer = (value: unknown, status = 200) =>
  new Response(JSON.stringify(value), {
    status,
    headers: { 'content-type': status < 400 ? 'application/json' : 'application/problem+json' },
  });

beforeEach(() => {
  vi.useFakeTimers();
  // nobody looks on here, so that state is plain values
  const plain = <T>(value: T) => value;
  vi.stubGlobal('$state', Object.assign(plain, { raw: plain }));
  [stored, asked, went] = [page(), [], []];
  vi.stubGlobal('fetch', async (path: string, { method, body: text }: { method: string; body: string }) => {
    const change = JSON.parse(text) as KeptPage;
    asked.push(`${method} ${path}`);
    if (method === 'POST') return answer((stored = { ...stored, ...change, id: 8, version: 1 }), 201);
    if (change.version !== stored.version)
      return answer({ code: 'page-changed', detail: 'This page was changed in another window.' }, 409);
    return answer((stored = { ...stored, ...change, version: stored.version + 1 }));
  });
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const keeperOf = (kept?: KeptPage, shown = body()) =>
  new PageKeeper(
    PROJECT,
    shown,
    kept,
    (address, replaces) => went.push(`${replaces ? 'replaces' : 'goes'} ${address}`),
    undefined,
  );
const settled = () => vi.advanceTimersByTimeAsync(1000);

describe('a page that is not kept', () => {
  it('goes from address to address, back and forth, and asks nothing of the store', async () => {
    const keeper = keeperOf();
    keeper.change({ horizon: 9 });
    keeper.change({ horizon: 9 }); // which changes nothing
    expect(went).toEqual([`goes ${PROJECT.addressOf(body({ horizon: 9 }))}`]);
    expect([keeper.canUndo, keeper.canRedo]).toEqual([true, false]);
    keeper.undo();
    expect(went.at(-1)).toBe(`goes ${PROJECT.addressOf(body())}`);
    keeper.redo();
    expect(went.at(-1)).toBe(`goes ${PROJECT.addressOf(body({ horizon: 9 }))}`);
    await settled();
    expect(asked).toEqual([]);
  });

  it('takes a drag back as one step, and leaves one address of it', () => {
    const keeper = keeperOf();
    for (const horizon of [31, 32, 33, 34]) keeper.change({ horizon }, 'horizon');
    expect(went.every((one) => one.startsWith('replaces'))).toBe(true);
    keeper.undo();
    expect(went.at(-1)).toBe(`goes ${PROJECT.addressOf(body())}`);
    expect(keeper.canUndo).toBe(false);
  });

  it('is kept under a name, and has its number in its address from then on', async () => {
    const keeper = keeperOf();
    await keeper.keep('Kelp, thirty days');
    expect(asked).toEqual(['POST /api/pages']);
    expect(keeper.kept).toMatchObject({ id: 8, title: 'Kelp, thirty days' });
    keeper.change({ focus: 1 });
    expect(went.at(-1)).toBe(`goes ${PROJECT.addressOf(body({ focus: 1 }), 8)}`);
  });
});

describe('a page that is kept', () => {
  it('is saved once after changes that follow each other, each time on the version of the time before', async () => {
    const keeper = keeperOf(page());
    keeper.change({ horizon: 5 });
    keeper.change({ horizon: 6 });
    await settled();
    expect(asked).toEqual(['PUT /api/pages/7']);
    expect(stored.body).toMatchObject({ horizon: 6 });
    keeper.rename('Kelp, six days');
    keeper.rename('  '); // which is no name
    await settled();
    expect([stored.title, stored.version, keeper.kept?.version]).toEqual(['Kelp, six days', 3, 3]);
    expect(keeper.isAstray).toBe(false);
  });

  it('is saved at once where it is left', async () => {
    const keeper = keeperOf(page());
    keeper.change({ horizon: 5 });
    keeper.flush();
    await vi.advanceTimersByTimeAsync(0);
    expect(stored.body).toMatchObject({ horizon: 5 });
  });

  it('does not overwrite what another window has made of it, and says so', async () => {
    const keeper = keeperOf(page());
    stored = page({ version: 2, body: body({ horizon: 99 }) });
    keeper.change({ horizon: 5 });
    await settled();
    expect(keeper.problem).toContain('changed in another window');
    expect(stored.body).toMatchObject({ horizon: 99 });
  });

  it('says where its address asks for something else, and takes either', async () => {
    const keeper = keeperOf(page(), body({ horizon: 12 }));
    expect(keeper.isAstray).toBe(true);
    await settled();
    expect(asked).toEqual([]);
    keeper.showKept();
    expect(went).toEqual([`goes ${PROJECT.addressOf(body(), 7)}`]);
    keeper.keepShown();
    await settled();
    expect(stored.body).toMatchObject({ horizon: 12 });
    expect(keeper.isAstray).toBe(false);
  });

  it('keeps what was changed while an earlier address of its own was on its way', () => {
    const keeper = keeperOf();
    keeper.change({ horizon: 9 });
    keeper.change({ horizon: 10 });
    keeper.opened(body({ horizon: 9 }), undefined);
    keeper.change({ focus: 1 });
    expect(keeper.now).toEqual(body({ horizon: 10, focus: 1 }));
    for (const late of [{ horizon: 10 }, { horizon: 10, focus: 1 }]) keeper.opened(body(late), undefined);
    expect(keeper.now).toEqual(body({ horizon: 10, focus: 1 }));
    // and follows when one goes back, to a state of its own too
    keeper.opened(body({ horizon: 9 }), undefined);
    expect(keeper.now).toEqual(body({ horizon: 9 }));
  });

  it('has steps of its own: another one that is opened begins anew', () => {
    const keeper = keeperOf(page());
    keeper.change({ horizon: 5 });
    expect(keeper.canUndo).toBe(true);
    keeper.opened(body({ tape: 'SALT' }), page({ id: 9, body: body({ tape: 'SALT' }) }));
    expect([keeper.canUndo, keeper.kept?.id]).toEqual([false, 9]);
  });
});
