import { tapeOf } from '$lib/server/http/answer';
import { endpoint } from '$lib/server/http/endpoint';
import { leftOutLines } from '$lib/server/store/tapes';

export const GET = endpoint(
  {
    says: 'The lines that were not imported, unchanged, each under a line with the reason.',
    answer: 'text',
    refuses: ['unknown-tape'],
    writes: false,
  },
  async ({ event }) => {
    const tape = await tapeOf(event);
    const lines = await event.locals.store.read((rows) => leftOutLines(rows, tape.id));
    const reports = [tape.report, ...tape.appended];
    const count = reports.reduce((sum, { leftOutCount }) => sum + leftOutCount, 0);
    const from = (file: number) => (reports.length > 1 ? ` of ${reports[file].file || 'a file without a name'}` : '');
    const text = lines.map(({ file, line, reason, text: raw }) => `# line ${line}${from(file)}: ${reason}\n${raw}\n`);
    if (count > lines.length)
      text.unshift(`# ${count} lines were left out; of so many only ${lines.length} are kept\n`);
    return new Response(text.join(''), {
      headers: {
        'content-type': 'text/plain; charset=utf-8',
        'content-disposition': `attachment; filename="${tape.name}-left-out.txt"`,
      },
    });
  },
);
