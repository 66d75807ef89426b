import { json } from '@sveltejs/kit';
import { answering } from '$lib/server/answer';
import { progressOf } from '$lib/server/jobs/importsUnderWay';

/** How far an import has come; nothing once it has ended. */
export const GET = answering(async ({ params }) => json(progressOf(params.id!) ?? null));
