import { accuracy } from '$lib/works/accuracy/run';
import { columns } from '$lib/works/columns/run';
import { comparison } from '$lib/works/comparison/run';
import { examination } from '$lib/works/examination/run';
import { projection } from '$lib/works/projection/run';
import { rollPart } from '$lib/works/roll/run';
import { barRecords } from './barRecords';
import { bars } from './bars';
import { barStarts } from './barStarts';
import { barStretch } from './barStretch';
import { calendarEffect } from './calendarEffect';
import { changeTape } from './changeTape';
import { closedDays } from './closedDays';
import { demo } from './demo';
import { previewFile } from './previewFile';
import { records } from './records';
import { summary } from './summary';

/** Every kind of work that threads of the server do. Queued jobs have these names: servers of two versions share a queue. */
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
  projectionAccuracy: accuracy,
  records,
  rollPart,
  summary,
};

export type TaskName = keyof typeof TASKS;
export type TaskInput<Name extends TaskName> = Parameters<(typeof TASKS)[Name]['run']>[0];
