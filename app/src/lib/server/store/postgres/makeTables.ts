import { setTimeout } from 'node:timers/promises';
import { isConflict, isMadeElsewhere } from './postgresErrors';

const MOST_ATTEMPTS = 100;
const PAUSE_MS = 200;

/**
 * Makes tables where other servers may make the same ones at this moment: it is tried again until they are there.
 * @param make  does nothing where they are there already, and leaves nothing half done
 */
export async function makeTables<Result>(make: () => Promise<Result>): Promise<Result> {
  for (let attempt = 1; ; attempt++) {
    try {
      return await make();
    } catch (error) {
      if (attempt >= MOST_ATTEMPTS || !(isConflict(error) || isMadeElsewhere(error))) throw error;
      await setTimeout(PAUSE_MS * (0.5 + Math.random()));
    }
  }
}
