import { z } from 'zod';

/** What a token may: read; write too; or keep the book, which is to make and take back tokens as well. */
export const Access = z.enum(['read', 'write', 'keep']);
export type Access = z.infer<typeof Access>;

/** The name of the token that the server is started with. */
export const KEEPER = 'keeper';

export const NewToken = z.strictObject({
  name: z
    .string()
    .regex(/^[A-Za-z0-9][A-Za-z0-9_-]{0,39}$/, 'must be of letters, digits, _ and -, 40 at most')
    .refine((name) => name !== KEEPER, `\`${KEEPER}\` is the token that the server is started with`),
  access: Access,
});

/** A token as it is listed: what it is itself is told once, to whoever makes it. */
export const Token = z.object({
  name: z.string(),
  access: Access,
  madeAt: z.string(),
  /** When it was last used to sign in, or by a program; null where it never was. */
  usedAt: z.string().nullable(),
});
export type Token = z.infer<typeof Token>;

/** A token that was just made. */
export const MadeToken = Token.extend({ token: z.string() });
