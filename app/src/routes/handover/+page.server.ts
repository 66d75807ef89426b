import { listHandovers } from '$lib/server/store/handovers';

export const load = async ({ locals }) => ({ pages: await locals.store.read(listHandovers) });
