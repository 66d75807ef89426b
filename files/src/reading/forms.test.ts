import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { previewReading } from './previewReading';

/* Each form of docs/files.md is read as the page says. */

const page = readFileSync(new URL('../../../docs/files.md', import.meta.url), 'utf8');
const LIMITS = { uploadMegabytes: 100, growth: 200, columns: 256, words: 10_000 };
const FORM = /^### (.*)\n\n```file\n([^]*?)```\n\n```becomes\n([^]*?)```/gm;
const forms = [...page.matchAll(FORM)].map(([, name, file, becomes]) => ({ name, file, becomes: becomes.trim() }));

/** What a file is read as, in the words of the page. */
async function readAs(file: string): Promise<string> {
  const input = {
    head: new TextEncoder().encode(file),
    tail: new Uint8Array(0),
    choices: {},
    calendar: { zone: 'UTC' },
  };
  const { reading, columns, tapes, first, open } = await previewReading(input, async () => undefined, LIMITS);
  if (open.length > 0) return `asked: ${open.join(', ')}`;
  const head = `${reading.kind} ${columns.join(' ')}${tapes.length > 0 ? ` of ${tapes.map(({ name }) => name).join(', ')}` : ''}`;
  const rows = first.map(({ read }) => (read ? read.map((cell) => cell || '-').join(' ') : '-'));
  return [head, ...rows].join('\n');
}

describe('a file', () => {
  it('comes in many forms', () => expect(forms.length).toBeGreaterThan(25));

  it.each(forms)('$name', async ({ file, becomes }) => expect(await readAs(file)).toBe(becomes));
});
