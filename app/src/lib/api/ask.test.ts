import { describe, expect, it } from 'vitest';
import { askLong } from './ask';
import { makeProblem, Refusal } from './problems';

/** An answer in lines, which arrive in pieces that know nothing of lines. */
const inPieces = (text: string, size: number) =>
  new Response(
    new ReadableStream({
      start(pieces) {
        for (let at = 0; at < text.length; at += size)
          pieces.enqueue(new TextEncoder().encode(text.slice(at, at + size)));
        pieces.close();
      },
    }),
    { headers: { 'content-type': 'application/x-ndjson' } },
  );
const ask = (answer: Response, told: (share: number) => void = () => undefined) =>
  askLong(async () => answer, '/api/examinations', { method: 'POST' }, told);

describe('a question that may take long', () => {
  it.each([1, 7, 1000])(
    'is told how far it is, and answered in the end, however the lines are cut (%i)',
    async (size) => {
      const shares: number[] = [];
      const text = '{"share":0.1}\n{"share":0.6}\n{"answer":{"says":"grün"}}\n';
      expect(await ask(inPieces(text, size), (share) => shares.push(share))).toEqual({
        says: size === 1 ? expect.any(String) : 'grün',
      });
      expect(shares).toEqual([0.1, 0.6]);
    },
  );

  it('that was quick has one answer', async () => {
    expect(await ask(Response.json({ says: 'soon' }))).toEqual({ says: 'soon' });
  });

  it('is refused in the words of the server, before it begins or on the way', async () => {
    const problem = makeProblem('too-much-work', 'This takes longer than 60 seconds.');
    await expect(ask(inPieces(`{"share":0.2}\n${JSON.stringify({ problem })}\n`, 50))).rejects.toThrow(
      new Refusal(problem),
    );
    const early = new Response(JSON.stringify(problem), {
      status: 422,
      headers: { 'content-type': 'application/problem+json' },
    });
    await expect(ask(early)).rejects.toThrow('This takes longer than 60 seconds.');
  });

  it('whose answer breaks off is said to have done so', async () => {
    await expect(ask(inPieces('{"share":0.2}\n{"answer":', 9))).rejects.toThrow('connection was lost');
  });
});
