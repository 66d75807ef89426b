import { z } from 'zod';
import type { Unit } from '@jaunty-ledger/core';

const UNITS = [
  'price',
  'move',
  'units',
  'value',
  'trades',
  'fraction',
  'number',
  'truth',
] as const satisfies readonly Unit[];

/** The units of the core, by which figures are written. */
export const UnitOfFigures = z.enum(UNITS);
