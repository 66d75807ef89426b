import { barRecords } from './barRecords';
import { bars } from './bars';
import { changeTape } from './changeTape';
import { columns } from './columns';
import { previewFile } from './previewFile';
import { records } from './records';
import { summary } from './summary';

/** Every kind of work that threads of the server do. */
export const TASKS = { barRecords, bars, changeTape, columns, previewFile, records, summary };

export type TaskName = keyof typeof TASKS;
export type TaskInput<Name extends TaskName> = Parameters<(typeof TASKS)[Name]['run']>[0];
