/* Formulas over rows: windows, averages, lags and measures, by the notation. */

export { evaluate } from '../formula/evaluate.js';
export { parseEntry } from '../formula/parser.js';
export { FormulaError, type Span } from '../formula/tree.js';
export { frameRows, namesOf, type Column, type Frame } from '../formula/frame.js';
export { catalogue } from '../catalogue/catalogue.js';
export { lastBars } from '../windows/window.js';
export { rollingMean } from '../windows/rollingSum.js';
export { simpleReturn } from '../returns/moves.js';
export { ArgumentError } from '../arguments.js';
