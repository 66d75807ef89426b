import { fetchTape, postColumns } from '$lib/api/client';
import { Refusal } from '$lib/api/problems';
import { ACCURACY } from '$lib/works/accuracy/work';
import { call } from '$lib/works/call';
import type { Sources } from './issue';
import { ToldColumns } from './take';

/** Figures by the server's interface. */
export const SERVER: Sources = {
  columns: async (body) =>
    ToldColumns.parse(JSON.parse(await (await postColumns(fetch, body, 'application/json')).text())),
  tape: (name) => fetchTape(fetch, name),
  trust: async ({ tape, bars, flagged }, { entry, model, horizon }) => {
    if (model === 'last') return ''; // all others are held against it
    try {
      const { models } = await call(ACCURACY, { tape, bars, flagged, entry, models: [model], horizon });
      return models[0]?.says ?? '';
    } catch (error) {
      // too few values to hold any back
      if (error instanceof Refusal) return '';
      throw error;
    }
  },
};
