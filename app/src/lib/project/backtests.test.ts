import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { makeProblem, Refusal } from '$lib/api/problems';
import type { AccuracyBody, ToldAccuracy } from '$lib/works/accuracy/work';
import { answerOf, Backtests } from './backtests.svelte';

const { call } = vi.hoisted(() => ({ call: vi.fn() }));
vi.mock('$lib/works/call', () => ({ call }));

/** Requests that are open, by model. */
let open: Map<string, { body: AccuracyBody; answer: () => void; fail: () => void }>;
beforeEach(() => {
  vi.useFakeTimers();
  open = new Map();
  call.mockImplementation((_: unknown, body: AccuracyBody) => {
    const [model] = body.models;
    return new Promise((resolve, reject) =>
      open.set(model, {
        body,
        answer: () => resolve({ models: [{ model }] } as ToldAccuracy),
        fail: () => reject(new Refusal(makeProblem('internal-error', 'no luck'))),
      }),
    );
  });
});
afterEach(() => void vi.useRealTimers());

const BODY = { tape: 'KELP', bars: '1 day', models: ['last', 'drift', 'mean'] } as AccuracyBody;
const settle = () => vi.advanceTimersByTimeAsync(500);
const statesOf = ({ all }: Backtests) => [...all].map(([model, { state }]) => `${model} ${state}`);

it('asks for two models at once, the next as one is done; a failure leaves the others', async () => {
  const backtests = new Backtests();
  backtests.ask(BODY);
  expect(statesOf(backtests)).toEqual(['last computing', 'drift computing', 'mean computing']);
  await settle();
  expect([...open.keys()]).toEqual(['last', 'drift']);
  open.get('last')!.fail();
  await settle();
  expect([...open.keys()]).toEqual(['last', 'drift', 'mean']);
  open.get('drift')!.answer();
  await settle();
  expect(statesOf(backtests)).toEqual(['last failed', 'drift done', 'mean computing']);
  expect(answerOf(backtests.all.get('drift'))?.model).toBe('drift');
});

it('stops a model before it has begun, and retries it', async () => {
  const backtests = new Backtests();
  backtests.ask(BODY);
  backtests.stop('drift');
  await settle();
  expect([...open.keys()].sort()).toEqual(['last', 'mean']);
  open.get('last')!.answer();
  backtests.retry('drift');
  await settle();
  expect(open.has('drift')).toBe(true);
});

it('shows no answer to an earlier question, at once and when it comes late', async () => {
  const backtests = new Backtests();
  backtests.ask(BODY);
  await settle();
  open.get('last')!.answer();
  await settle();
  const late = open.get('drift')!;
  backtests.ask({ ...BODY, tape: 'SALT' });
  expect(statesOf(backtests)).toEqual(['last computing', 'drift computing', 'mean computing']);
  late.answer();
  await settle();
  expect(statesOf(backtests)).toEqual(['last computing', 'drift computing', 'mean computing']);
  expect(open.get('last')!.body.tape).toBe('SALT');
});

it('keeps what is done when a model is added, and asks once for a number that is turned', async () => {
  const backtests = new Backtests();
  backtests.ask({ ...BODY, models: ['last'] });
  await settle();
  open.get('last')!.answer();
  await settle();
  for (const rows of [20, 21, 22]) backtests.ask({ ...BODY, models: ['last', `mean ${rows}`] });
  await settle();
  expect(statesOf(backtests)).toEqual(['last done', 'mean 22 computing']);
  expect([...open.keys()]).toEqual(['last', 'mean 22']);
});
