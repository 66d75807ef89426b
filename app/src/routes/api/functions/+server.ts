import { catalogue } from '@jaunty-ledger/core';
import { z } from 'zod';
import { endpoint } from '$lib/server/http/endpoint';

export const GET = endpoint(
  { says: 'Every function of the notation, as the catalogue has it.', answer: z.array(z.unknown()), writes: false },
  async () =>
    [...catalogue.values()].map(
      ({ name, sentence, remark, formula, example, parameters, options, parts, definition, source, cost }) => ({
        name,
        sentence,
        remark,
        formula,
        example,
        parameters,
        options,
        parts,
        definition,
        source,
        cost,
      }),
    ),
);
