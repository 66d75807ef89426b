import { isTimed, type BarKind } from './barKind.js';
import { runningKind } from './runningKinds.js';
import { timedKind } from './timedKinds.js';

/** A kind of bars as a bar rule says it: `15 minutes`. */
export const printKind = (kind: BarKind): string =>
  isTimed(kind) ? timedKind(kind).print(kind) : runningKind(kind).print(kind.limit);

/** A kind of bars as a sentence says it: `15-minute`, `daily`, `500-trade`. */
export const kindPhrase = (kind: BarKind): string =>
  isTimed(kind) ? timedKind(kind).phrase(kind) : runningKind(kind).phrase(kind.limit);
