import { error } from '@sveltejs/kit';
import { documentHtml } from '$lib/handover/documentHtml';
import { pageToRead } from '$lib/server/http/handovers';

/** A page that is handed over, to be read: a document of its own, without a script. */
export async function GET({ locals, params }) {
  const page = await locals.store.read((rows) => pageToRead(rows, locals, params.id));
  if (!page) error(404, `There is no page ${params.id.slice(0, 20)} to read.`);
  return new Response(documentHtml(page.title, page.body), {
    headers: {
      'content-type': 'text/html; charset=utf-8',
      // nothing runs and nothing is fetched, whatever its words are
      'content-security-policy':
        "default-src 'none'; style-src 'unsafe-inline'; img-src data:; base-uri 'none'; form-action 'none'; frame-ancestors 'none'",
    },
  });
}
