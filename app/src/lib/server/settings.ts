import { z } from 'zod';
import { LimitSettings, readLimits, type Limits } from './limits';
import { isStoreAddress, STORE_ADDRESS } from './store/storeAddress';

const SettingsSchema = z.object({
  HOST: z.string().default('127.0.0.1'),
  PORT: z.coerce.number('must be a number').int().min(0).max(65535).default(4180),
  /** Folder of all that is kept, and of files on their way in. */
  JAUNTY_DATA: z.string().min(1).default('data'),
  /** Where the store is; in the folder, if not told. */
  JAUNTY_STORE: z.string().refine(isStoreAddress, `is ${STORE_ADDRESS}`).optional(),
  /** Folder of the built worker programs. */
  JAUNTY_JOBS: z.string().min(1).default('app/build-jobs'),
  /** Asked of every request where the server is reached from other machines. */
  JAUNTY_TOKEN: z.string().min(16, 'needs at least 16 characters').optional(),
  JAUNTY_DEMO: z.enum(['on', 'off']).default('on'),
  JAUNTY_LOG: z.enum(['silent', 'error', 'warn', 'info', 'debug']).default('info'),
});

export type Settings = z.infer<typeof SettingsSchema> & { JAUNTY_STORE: string; limits: Limits };

const LOOPBACK = ['127.0.0.1', 'localhost', '::1'];

/**
 * The settings of this process, from its environment.
 * @throws with every setting that does not fit, and for an address that is open to others without a token
 */
export function readSettings(environment: Record<string, string | undefined>): Settings {
  const result = SettingsSchema.and(LimitSettings).safeParse(environment);
  if (!result.success) {
    const wrong = result.error.issues.map(({ path, message }) => `${path.join('.')}: ${message}`);
    throw new Error(`A setting does not fit.\n${wrong.join('\n')}`);
  }
  const { HOST, JAUNTY_TOKEN } = result.data;
  if (!LOOPBACK.includes(HOST) && JAUNTY_TOKEN === undefined)
    throw new Error(`HOST is ${HOST}, which others can reach: set JAUNTY_TOKEN too, or leave HOST out.`);
  const read = SettingsSchema.parse(environment);
  const JAUNTY_STORE = read.JAUNTY_STORE ?? `sqlite:${read.JAUNTY_DATA}`;
  return { ...read, JAUNTY_STORE, limits: readLimits(environment) };
}

export const settings = readSettings(process.env);
