import { log } from '../log';
import type { Store } from '../store/store';
import { versionsOf } from '../store/tapes';
import { eventStream } from './eventStream';

/** The store is asked so often: one short read, however many tapes are watched. */
const ASKED_EVERY_MS = 500;

/** Tells the versions of some tapes, at first and when one has changed. */
export function versionsAnswer(store: Store, names: readonly string[]): Response {
  let timer: ReturnType<typeof setTimeout> | undefined;
  let isOver = false;
  return eventStream(
    (stream) => {
      let told = '';
      const look = async () => {
        try {
          const found = await store.read((rows) => versionsOf(rows, names));
          const text = JSON.stringify(Object.fromEntries(found.map(({ name, version }) => [name, version])));
          if (text !== told && !isOver) stream.say(`event: versions\ndata: ${text}\n\n`);
          told = text;
        } catch (error) {
          log.warn({ err: error }, 'versions of tapes could not be read');
        }
        if (!isOver) timer = setTimeout(() => void look(), ASKED_EVERY_MS);
      };
      void look();
    },
    () => {
      isOver = true;
      clearTimeout(timer);
    },
  );
}
