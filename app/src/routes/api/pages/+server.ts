import { z } from 'zod';
import { KeptPage, NewPage } from '$lib/api/pages';
import { endpoint } from '$lib/server/http/endpoint';
import { pages } from '$lib/server/store/pages';

export const GET = endpoint(
  { says: 'All pages that are kept under a name, the one saved last first.', answer: z.array(KeptPage), writes: false },
  ({ event }) => event.locals.store.read((rows) => pages.list(rows)),
);

export const POST = endpoint(
  { says: 'Keeps a page under a name.', body: NewPage, answer: KeptPage, status: 201, writes: true },
  ({ event, body: page }) => event.locals.store.write((rows) => pages.insert(rows, page, Date.now() * 1000)),
);
