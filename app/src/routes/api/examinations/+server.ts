import { ExaminationBody, ToldExamination } from '$lib/api/examinations';
import { refuse } from '$lib/api/problems';
import { COLUMN_REFUSALS, rangeOf, tapeOf } from '$lib/server/http/answer';
import { longAnswer } from '$lib/server/http/longAnswer';
import { endpoint } from '$lib/server/http/endpoint';
import { runTask } from '$lib/server/tasks/runTask';

export const POST = endpoint(
  {
    says: 'What one column of bars is like: its shape, its memory, its cycles, and what tests say of it.',
    body: ExaminationBody,
    answer: ToldExamination,
    tellsShare: true,
    refuses: COLUMN_REFUSALS,
    writes: false,
  },
  async ({ event, body, client, signal }) => {
    if (body.profile && body.words !== undefined)
      throw refuse('invalid-body', 'Rows are put together by `profile` or by `words`; leave one of them out.');
    const tape = await tapeOf(event, body.tape);
    const { bars: rule, flagged = true, stretch, season, profile, words, turns, ...rest } = body;
    const input = { ...rest, tape, rule, flagged, season, profile, words, turns, stretch: stretch && rangeOf(stretch) };
    return longAnswer(event, { client, signal }, (who) => runTask('examination', input, who));
  },
);
