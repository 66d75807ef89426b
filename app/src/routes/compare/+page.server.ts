import { columnPage } from '$lib/server/http/columnPage';

export const load = ({ locals, url }) => columnPage(locals.store, url, 'compare');
