import { json } from '@sveltejs/kit';
import { catalogue } from '@jaunty-ledger/core';

/** Every function of the notation, as the catalogue has it. */
export const GET = () =>
  json(
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
