import { z } from 'zod';
import { Access, KEEPER } from './tokens';

const PersonName = z
  .string()
  .regex(/^[A-Za-z0-9][A-Za-z0-9_.-]{0,39}$/, 'must be of letters, digits, _, . and -, 40 at most')
  .refine((name) => name !== KEEPER, `\`${KEEPER}\` is the administrator, who has the server's own token`);
export const LEAST_PASSWORD = 10;
export const MOST_PASSWORD = 200;
const Password = z.string().min(LEAST_PASSWORD, `needs at least ${LEAST_PASSWORD} characters`).max(MOST_PASSWORD);

/** Somebody who works with the book under a name of his own. */
export const Person = z.object({
  name: z.string(),
  access: Access,
  /** Whether he signs in by a password here, or by a provider elsewhere. */
  signsIn: z.enum(['here', 'elsewhere']),
  madeAt: z.string(),
  usedAt: z.string().nullable(),
});
export type Person = z.infer<typeof Person>;

export const NewPerson = z.strictObject({ name: PersonName, access: Access, password: Password });
export const PersonChange = z
  .strictObject({ access: Access.optional(), password: Password.optional() })
  .refine((change) => Object.keys(change).length > 0, 'needs `access` or `password`');
export type PersonChange = z.infer<typeof PersonChange>;

/** A browser that somebody is signed in with. */
export const OpenSession = z.object({
  id: z.string(),
  madeAt: z.string(),
  usedAt: z.string(),
  /** That it was opened from. */
  address: z.string(),
  /** Whether it is the one that asks. */
  isThis: z.boolean(),
});
export type OpenSession = z.infer<typeof OpenSession>;

/** The body of `PUT /api/password`. */
export const PasswordChange = z.strictObject({ current: z.string().max(MOST_PASSWORD), password: Password });

/** What others may do with something. */
const Others = z.enum(['change', 'read', 'nothing']);
/** What others may do with something from the moment it is made, where people sign in: change it, if nothing is said. */
export const othersOfNew = Others.optional().describe('What others may do with it, where people sign in');

/** Whose something is, and what others may do with it. */
export const Ownership = z.object({
  /** Nobody's where it was made before people had names. */
  owner: z.string().nullable(),
  /** A ledger that others may do nothing with is not there for them, but for whoever keeps the book. */
  others: Others,
});
export type Ownership = z.infer<typeof Ownership>;
export const DocumentSharing = z.strictObject({ others: Ownership.shape.others });
/** Records can be read by all who are let in. */
export const TapeSharing = z.strictObject({ others: z.enum(['change', 'read']) });

/** Something that somebody has done to what is kept. */
export const Act = z.object({
  at: z.string(),
  who: z.string(),
  address: z.string(),
  act: z.string(),
  what: z.record(z.string(), z.unknown()),
});
export type Act = z.infer<typeof Act>;

export const AuditQuery = z.strictObject({
  who: z.string().max(40).optional(),
  before: z.string().max(40).optional().describe('Acts before this instant; the latest without'),
  limit: z.coerce.number().int().min(1).max(1000).default(100),
});
