import { barRecords } from './barRecords';
import { bars } from './bars';
import { barStarts } from './barStarts';
import { barStretch } from './barStretch';
import { calendarEffect } from './calendarEffect';
import { changeTape } from './changeTape';
import { closedDays } from './closedDays';
import { comparison } from './comparison';
import { columns } from './columns';
import { demo } from './demo';
import { examination } from './examination';
import { previewFile } from './previewFile';
import { projection } from './projection';
import { projectionAccuracy } from './projectionAccuracy';
import { records } from './records';
import { rollPart } from './rollPart';
import { summary } from './summary';

/** Every kind of work that threads of the server do. */
export const TASKS = {
  barRecords,
  bars,
  barStarts,
  barStretch,
  calendarEffect,
  changeTape,
  closedDays,
  columns,
  comparison,
  demo,
  examination,
  previewFile,
  projection,
  projectionAccuracy,
  records,
  rollPart,
  summary,
};

export type TaskName = keyof typeof TASKS;
export type TaskInput<Name extends TaskName> = Parameters<(typeof TASKS)[Name]['run']>[0];
