import { answering, tapeOf } from '$lib/server/answer';
import { leftOutLines } from '$lib/server/store/tapes';

/** The lines that were left out, as they stood, each under a line that says why. */
export const GET = answering(async (event) => {
  const tape = await tapeOf(event);
  const lines = await leftOutLines(event.locals.db, tape.id);
  const text = lines.map(({ line, reason, text: raw }) => `# line ${line}: ${reason}\n${raw}\n`).join('');
  return new Response(text, {
    headers: {
      'content-type': 'text/plain; charset=utf-8',
      'content-disposition': `attachment; filename="${tape.name}-left-out.txt"`,
    },
  });
});
