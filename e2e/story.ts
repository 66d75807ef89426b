import { format } from 'node:util';
import { it } from 'vitest';

type Work = () => Promise<unknown>;
/** What a test takes of a case: the values of a list, or the case itself. */
type ValuesOf<Case> = Case extends readonly unknown[] ? [...Case] : [Case];

/** Long enough for a test that first does all that comes before it. */
const WHOLE_STORY_MS = 240_000;

/**
 * Tests of one story, each of which goes on where the one before has ended. A test that is run alone first does what comes
 * before it; where that has failed, it fails at once.
 * @returns what is used in the place of `it`
 */
export function story() {
  const steps: { work: Work; done?: Promise<unknown> }[] = [];
  const step = (name: string, work: Work) => {
    const own: (typeof steps)[number] = { work };
    const before = [...steps];
    steps.push(own);
    it(
      name,
      async () => {
        for (const earlier of before) await (earlier.done ??= earlier.work());
        await (own.done = own.work());
      },
      WHOLE_STORY_MS,
    );
  };
  const each =
    <Case>(cases: readonly Case[]) =>
    (name: string, work: (...values: ValuesOf<Case>) => Promise<unknown>) => {
      for (const one of cases) {
        const values = Array.isArray(one) ? one : [one];
        const named = values.slice(0, name.split('%').length - 1);
        step(format(name, ...named), () => work(...(values as ValuesOf<Case>)));
      }
    };
  return Object.assign(step, { each });
}
