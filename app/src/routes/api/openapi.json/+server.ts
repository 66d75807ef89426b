import { json } from '@sveltejs/kit';
import { openApi } from '$lib/server/openApi';

export const GET = () => json(openApi());
