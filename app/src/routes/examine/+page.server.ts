import { columnPage } from '$lib/server/http/columnPage';

export const load = ({ locals, url }) => columnPage(locals, url, 'examine');
