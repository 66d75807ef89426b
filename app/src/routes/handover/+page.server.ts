import { firstHandovers } from '$lib/server/http/handovers';

export const load = async ({ locals }) => ({ pages: await locals.store.read((rows) => firstHandovers(rows, locals)) });
