import { FormulaError, parseEntry } from '@jaunty-ledger/core';
import { z } from 'zod';

/** A formula that is kept under its name, to be offered in every ledger. */
export const KeptEntry = z
  .strictObject({
    name: z.string().regex(/^[A-Za-z_]\w{0,39}$/, 'must be a plain word of 40 characters at most'),
    formula: z.string().max(2000),
  })
  .superRefine(({ name, formula }, context) => {
    try {
      parseEntry(`${name} = ${formula}`);
    } catch (error) {
      if (!(error instanceof FormulaError)) throw error;
      context.addIssue({ code: 'custom', path: ['formula'], message: error.message });
    }
  });
export type KeptEntry = z.infer<typeof KeptEntry>;
