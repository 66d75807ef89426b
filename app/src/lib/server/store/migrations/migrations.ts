import type { Knex } from 'knex';
import * as tapesAndLedgers from './001-tapes-and-ledgers';
import * as filesAndCalendars from './002-files-and-calendars';
import * as keptEntries from './003-kept-entries';
import * as generations from './004-generations';
import * as tokens from './005-tokens';
import * as fileColumns from './006-file-columns';
import * as calendarsAndTags from './007-calendars-and-tags';
import * as pages from './008-pages';
import * as handovers from './009-handovers';
import * as feeds from './010-feeds';
import * as importProgress from './011-import-progress';
import * as jobs from './012-jobs';
import * as barStretches from './013-bar-stretches';
import * as people from './014-people';
import * as ownersAndLists from './015-owners-and-lists';
import * as sharedTimes from './016-shared-times';

const steps: Record<string, Knex.Migration> = {
  '001-tapes-and-ledgers': tapesAndLedgers,
  '002-files-and-calendars': filesAndCalendars,
  '003-kept-entries': keptEntries,
  '004-generations': generations,
  '005-tokens': tokens,
  '006-file-columns': fileColumns,
  '007-calendars-and-tags': calendarsAndTags,
  '008-pages': pages,
  '009-handovers': handovers,
  '010-feeds': feeds,
  '011-import-progress': importProgress,
  '012-jobs': jobs,
  '013-bar-stretches': barStretches,
  '014-people': people,
  '015-owners-and-lists': ownersAndLists,
  '016-shared-times': sharedTimes,
};

/** The migrations, named one by one: the server is bundled, so there is no folder to look through. */
export const migrations: Knex.MigrationSource<string> = {
  getMigrations: async () => Object.keys(steps),
  getMigrationName: (name) => name,
  getMigration: async (name) => steps[name],
};
