import { existsSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { holdStore, connectStore } from '../store/openStore';
import { connectAlone, refuseInUse } from '../store/postgres/exclusiveUse';
import { spreadChunks } from '../store/postgres/spreadChunks';
import type { Store } from '../store/store';
import { folderOf as storeFolder, isOnServer, isStoreAddress, STORE_ADDRESS } from '../store/storeAddress';
import { backUp } from './backup';
import { KeepingError } from './keepingError';
import { moveStore } from './move';
import { restore } from './restore';

/* The program behind `jaunty move`, `backup`, `restore` and `spread`. */

const told = (line: string): void => void process.stderr.write(`${line}\n`);

/** Runs work on a store that no server uses. @throws where one does */
async function held<Result>(address: string, work: (store: Store) => Promise<Result>): Promise<Result> {
  if (isOnServer(address)) {
    const database = connectAlone(address);
    await refuseInUse(database).finally(() => database.destroy());
  }
  const { store, release } = await holdStore(address);
  return work(store).finally(release);
}

const addressOf = (name: string, value: string | undefined): string => {
  if (value === undefined || !isStoreAddress(value)) throw new KeepingError(`--${name} needs ${STORE_ADDRESS}.`);
  return value;
};
/** One that is there: a folder is not made to be empty. */
const sourceOf = (value: string | undefined): string => {
  const address = addressOf('from', value);
  if (!isOnServer(address) && !existsSync(storeFolder(address)))
    throw new KeepingError(`There is no store in ${storeFolder(address)}.`);
  return address;
};
const folderOf = (name: string, value: string | undefined): string => {
  if (value === undefined || value === '') throw new KeepingError(`--${name} needs a folder.`);
  return value;
};

async function run([command, ...rest]: readonly string[]): Promise<void> {
  const { values } = parseArgs({
    args: rest,
    options: { from: { type: 'string' }, to: { type: 'string' }, over: { type: 'string', multiple: true } },
  });
  switch (command) {
    case 'move': {
      const [from, to] = [sourceOf(values.from), addressOf('to', values.to)];
      if (from === to) throw new KeepingError('--from and --to are the same store.');
      return held(from, (source) => held(to, (target) => moveStore(source, target, told)));
    }
    case 'backup': {
      // servers go on: nothing is written to the store
      const store = connectStore(sourceOf(values.from));
      return backUp(store, folderOf('to', values.to), told).finally(() => store.close());
    }
    case 'restore':
      return held(addressOf('to', values.to), (store) => restore(folderOf('from', values.from), store, told));
    case 'spread':
      return spreadChunks(sourceOf(values.from), values.over ?? [], (moved) => told(`${moved} chunks moved`));
    default:
      throw new KeepingError('What is to be done: move, backup, restore or spread?');
  }
}

try {
  await run(process.argv.slice(2));
} catch (error) {
  const isOurs = !(error instanceof Error) || !/^(Keeping|)Error$|Refusal/.test(error.name);
  told(isOurs ? String(error instanceof Error ? error.stack : error) : (error as Error).message);
  process.exitCode = isOurs ? 70 : 1;
}
