export {
  analyse,
  rangeReport,
  report,
  type RangeReport,
  type Report,
  type ReportDay,
  type ReportFinding,
} from './report/report.js';
export { canonicalCsv, totalsCsv } from './bookFile/canonicalCsv.js';
export {
  booksIn,
  logsOfBook,
  openBook,
  readBook,
  type BookLogs,
  type OpenedBook,
} from './bookFile/openBook.js';
export { bookOf, pathOfFile, type BookContents, type BookFile } from './bookFile/writeBook.js';
export {
  correctionsJsonSchema,
  findingSchema,
  sourcesJsonSchema,
  type BookCorrection,
  type BookSource,
} from './bookFile/documents.js';
export { checksumOf } from './bookFile/zipFile.js';
export { parseReadings, readingsText } from './import/merge/readingsFile.js';
export { readingSchema, readingsLog, READINGS_NAME, type Reading } from './import/merge/readings.js';
export { mergeSources } from './import/merge/mergeSources.js';
export { prepare, type Prepared } from './passes/prepare.js';
export { extendPrepared } from './passes/extendPrepared.js';

export { InputError, problemText, type Problem } from './model/problem.js';
export {
  LEFT_OUT,
  leftOutFinding,
  readFile,
  readPart,
  surveyFile,
  type FileLog,
  type FileSurvey,
  type ReadLog,
  type Survey,
} from './import/readLog.js';
export { readRows } from './import/read/readRows.js';
export { canonicalLayout } from './import/read/layout.js';
export {
  mappingJsonSchema,
  mappingSchema,
  parseMapping,
  type MappedColumn,
  type Mapping,
} from './import/read/mapping.js';
export type { Alternative, Conclusion } from './import/recognise/conclusion.js';
export type { Recognition } from './import/recognise/recognise.js';
export type { LeftOut, Open, Part } from './import/read/unpack.js';
export { checkSystem, parseSystem, systemJsonSchema } from './system/parse.js';
export { systemSchema, type System, type SystemConfiguration } from './system/schema.js';
export { checkLog } from './check/checkLog.js';
export { configurationsOf } from './system/configuration.js';
export { correctionSchema, correctionText, quantitySchema, type Correction } from './model/correction.js';
export { coverageOfSource, ENERGY_ONLY, type Coverage } from './check/coverage.js';
export { notesOfDay } from './views/journalNotes.js';
export {
  journalJsonSchema,
  journalText,
  NOTE_KINDS,
  noteSchema,
  parseJournal,
  type JournalNote,
  type NoteKind,
} from './system/journal.js';
export type { Comparison } from './check/compareSources.js';
export type { Finding, Gap, Severity } from './model/finding.js';
export { dayNumberAt, dayNumberOfDate, dayOf, YEAR_MS, type Day } from './time/days.js';
export { isoOf, parseInstant } from './time/instant.js';
export { instantOfLocal, isZone, offsetAt, zoneOf, type Zone } from './time/zone.js';
export { seededRandom } from './statistics/random.js';
export {
  endMs,
  type Channel,
  type Column,
  type UnshapedEnergy,
  type Log,
  type SourceLog,
} from './model/log.js';
export type { Range } from './model/range.js';
export { FLOWS, type Flow, type Quantity } from './model/quantity.js';
export { withRoom } from './model/growable.js';
export { rollOf, type DayNote, type RollDay } from './views/roll.js';
export { powerSeries, type PowerSeries } from './views/powerSeries.js';
export { reconcile, type Reckoning } from './books/account/reconcile.js';
export { lossesView, type LossesView } from './views/losses.js';
export {
  parseRun,
  runBudget,
  runJsonSchema,
  USUAL,
  type RunBudget,
  type ShortRun,
} from './books/losses/shortRun.js';
export {
  openedOutage,
  outagesView,
  outageStarts,
  type OpenedOutage,
  type OutagesView,
} from './views/outages.js';
export type { ToldOutage } from './books/outage/toldOutages.js';
export { FIRST_SCENARIOS, scenarioOf, WHOLE_HOME, type Scenario } from './books/outage/scenario.js';
export {
  HORIZON_H,
  scenarioOutcome,
  reserveAdvice,
  USUAL_RESERVE,
  type ScenarioOutcome,
  type ReserveAdvice,
} from './books/outage/scenarioOutcome.js';
export { typicalRuntime, type LoadPart, type TypicalRuntime } from './books/outage/typicalRuntime.js';
export { hiddenStarts, START_RATIO } from './books/peak/peakLoads.js';
export type { Starts } from './books/outage/outageStarts.js';
export { runtimeHours, type RunsOn } from './books/shared/homeStorage.js';
export type { Outage } from './passes/outages.js';
export { wearView, type CapacityLine, type WearView } from './views/wear.js';
export { wearEvidence } from './bookFile/wearEvidence.js';
export type { Clock } from './books/wear/warrantyState.js';
export { MARK, STRIP_SLOTS, stripsOf, type Strips } from './passes/dayStrips.js';
export { chargeTaken, dischargeGiven, storedAfter, type StorageParameters } from './storage/parameters.js';
export { ISLAND, type ChargeWindow, type Policy } from './storage/policy.js';
export { step, type Conditions, type StepResult } from './storage/step.js';
export type { Figure, FigureEntry, Method, Status, Unit, WorkingLine } from './model/figure.js';
export { BASIS, type Basis, type BasisKey } from './model/basis.js';
export { figureEntry, figuresTable, REGISTRY } from './report/registry.js';
export { reportJsonSchema } from './report/reportSchema.js';
