import { ReadingChoices } from '@jaunty-ledger/files/reading/reading';
import { ReadingPreview } from '@jaunty-ledger/files/reading/preview';
import { ReadingBody } from '$lib/api/readings';
import { jsonAnswer } from '$lib/server/http/answer';
import { endpoint } from '$lib/server/http/endpoint';
import { readBy } from '$lib/server/http/problem';
import { settings } from '$lib/server/settings';
import { runTask } from '$lib/server/tasks/runTask';

const listed = (text: string | undefined) =>
  text
    ?.split(',')
    .map((part) => part.trim())
    .filter(Boolean);

export const POST = endpoint(
  {
    says: 'How a file would be read, from its beginning and end. Nothing is entered.',
    body: ReadingBody,
    bodyMegabytes: settings.limits.previewMegabytes,
    answer: ReadingPreview,
    refuses: ['empty-file', 'unreadable-lines', 'broken-body', 'too-many-columns', 'too-many-words', 'too-much-work'],
    writes: false,
  },
  async ({ body, client, signal }) => {
    const { head, tail, zone, session, weekdays, closed } = body;
    const bytes = (text: string) => new Uint8Array(Buffer.from(text, 'base64'));
    const input = {
      head: bytes(head),
      tail: bytes(tail),
      choices: readBy(ReadingChoices, body.choices, 'invalid-body'),
      calendar: { zone, session, weekdays: listed(weekdays), closed: listed(closed) },
    };
    return jsonAnswer(await runTask('previewFile', input, { client, signal }));
  },
);
