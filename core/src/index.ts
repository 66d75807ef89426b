export { ArgumentError } from './arguments.js';
export {
  makeCalendar,
  Calendar,
  WEEKDAYS,
  type CalendarOptions,
  type TradingDay,
  type Weekday,
} from './time/calendar.js';
export { Zone, type WallKind } from './time/zone.js';
export * from './time/instant.js';
export { periodStart, type PeriodUnit } from './time/periods.js';
export { instantOf, periodInstant, periodNumber, rfc3339, toldText } from './time/rfc3339.js';
export { WeekdaySeeker } from './time/weekdayGuess.js';
export { SessionSeeker, type SessionGuess } from './time/sessionGuess.js';
export { toldStretch, type Stretch } from './time/toldStretch.js';
export { TimeReader } from './time/timeText.js';
export { PRECISIONS, readClockText, type DateOrder, type Precision } from './time/datedText.js';
export type { Quotes, TextColumns, Ticks } from './records/ticks.js';
export { BAR_COLUMNS, BAR_FIELDS, type Bars, type BuiltBars } from './bars/bars.js';
export { barsBetween } from './bars/barsBetween.js';
export { frameOf } from './bars/barFrame.js';
export { parseBarRule, printBarRule, BarRuleError } from './bars/barRule.js';
export { isTimed, TAKES, type BarKind, type BarRule, type Take } from './bars/barKind.js';
export { kindPhrase } from './bars/phrase.js';
export { timedKind } from './bars/timedKinds.js';
export { rowFilter } from './bars/records.js';
export { barsToCome } from './bars/barsToCome.js';
export { areJoinable, cutBefore, runsOn, type BarStretch } from './bars/barStretches.js';
export { StretchBuilder, type StretchSkips } from './bars/stretchBuilder.js';
export { firstStarts, RunningStarts, type StretchStarts } from './bars/runningStarts.js';
export { coveringRange } from './bars/coveringRange.js';
export { BuildCourse, TooManyBarsError } from './bars/buildCourse.js';
export { BarBuilder, buildBars, refuseFinerThan } from './bars/buildBars.js';
export { decimalsOf, usualDecimals, MOST_DECIMALS } from './numeric/decimals.js';
export { figureText, movePercent, seriesFigures, type SeriesFigures } from './numeric/figureText.js';
export { pieces } from './numeric/pieces.js';
export { asFraction, nearestWhole } from './numeric/wholes.js';
export { firstRowFrom } from './numeric/search.js';
export { GrowingColumn } from './numeric/growingColumn.js';
export { evaluate, Work } from './formula/evaluate.js';
export { planEach, planEntries, type KnownNames, type Plan, type Planned } from './formula/plan.js';
export { widest } from './formula/reach.js';
export { completionsAt, type Completion, type Completions } from './formula/complete.js';
export { parseEntry } from './formula/parser.js';
export { backtestPlan, type BacktestPlan } from './project/backtestPlan.js';
export { MODEL_FORMS } from './project/modelForms.js';
export { phraseCompletions, startingEntries, type PhraseContext } from './formula/tradePhrases.js';
export { splitEntry } from './formula/splitEntry.js';
export { printEntry, printFormula } from './formula/print.js';
export { frameRows, namesOf, type Column, type Frame } from './formula/frame.js';
export { FormulaError, type Span } from './formula/tree.js';
export { numbersIn, wordsIn, type NumberInText } from './formula/numbers.js';
export { catalogue } from './catalogue/catalogue.js';
export { functionSection, functionsPage } from './catalogue/functionsPage.js';
export type {
  Course,
  FunctionEntry,
  OptionRule,
  OtherThread,
  BarFrequency,
  Parameter,
  Part,
  PartRole,
  RowsOrder,
  Step,
} from './catalogue/functionEntry.js';
export { workingOf, type Working } from './working/working.js';
export { scaleOf, type Scale, type Unit } from './catalogue/units.js';
export { commonWordsFor } from './catalogue/commonWords.js';
export {
  CHANGES,
  examine,
  MOST_EXAMINED_ROWS,
  type Examination,
  type ChangesChoice,
  type ExaminationChoices,
} from './examine/examination.js';
export { parseTreatment, treated, treatmentText, type Treatment } from './examine/treatments.js';
export { QUESTIONS, type Question, type Verdict } from './examine/verdicts.js';
export { calendarGroups, PROFILES, type ProfileBy } from './examine/profile.js';
export type { GroupSummary } from './examine/groups.js';
export * from './entry/examine.js';
export * from './entry/project.js';
export * from './entry/compare.js';
export { fitArima as fitArimaModel, type FittedArima } from './project/arima/arima.js';
export { chooseArima as chooseArimaModel, type Candidate, type ChosenArima } from './project/arima/chooseArima.js';
export {
  accuracy,
  type Accuracy,
  type AccuracyChoices,
  type AheadMeasures,
  type Measures,
} from './project/accuracy.js';
export { garch, type Garch } from './project/garch.js';
export {
  MOST_ORDER,
  MOST_SEASON,
  modelPhrase,
  modelText,
  parseModel,
  type ArimaModel,
  type Model,
} from './project/model.js';
export { fitModel, keepsRows, projectionAtValues, projectionOf, seenBy } from './project/project.js';
export { quantileOf } from './examine/summary.js';
export {
  correlationsOf,
  likenessOrder,
  orderedMatrix,
  type CorrelationMatrix,
  type Join,
  type OrderedMatrix,
} from './compare/matrix.js';
export { simpleReturn } from './returns/moves.js';
export { rollingMean } from './windows/rollingSum.js';
export { lastBars } from './windows/window.js';
export {
  comparePair,
  pairCorrelation,
  pairSpread,
  toldStretches,
  type PairChoices,
  type PairCorrelation,
  type PairSpread,
  type ToldStretch,
} from './compare/pair.js';
export { lowCorrelations, partedStretches, type PartedStretch } from './compare/partedStretches.js';
export { type HalfLife, type Spread, type SpreadBeta } from './compare/spread.js';
export { sharesAhead, type ShareAhead, type Shares } from './project/shares.js';
export { explainedBy, residualCheck, type ResidualCheck } from './project/residualCheck.js';
export { chooseSmoothing, seasonOf } from './project/smoothing/chooseSmoothing.js';
export { fitSmoothing as fitSmoothingModel, type FittedSmoothing } from './project/smoothing/fitSmoothing.js';
export { normalBelow, normalQuantile } from './numeric/tails.js';
export { draftSentences, type DraftLine, type DraftSubject } from './handover/draft.js';
export { entryFacts, type EntryFacts as LineFacts, type LineRole } from './handover/entryFacts.js';
export { runNow, shareBelowNow, standingNow, type Standing } from './handover/standing.js';
export { BarRows } from './live/barRows.js';
export { LiveBars, type ChangedBars } from './live/liveBars.js';
export { LiveColumns, type LiveColumn } from './live/liveColumns.js';
