export {
  analyse,
  rangeReport,
  report,
  type RangeReport,
  type Report,
  type ReportDay,
  type ReportFinding,
} from './report.js';
export { canonicalCsv, totalsCsv } from './export/canonicalCsv.js';
export { booksIn, logsOfBook, openBook, readBook, type BookLogs, type OpenedBook } from './book/openBook.js';
export { bookOf, pathOfFile, type BookContents, type BookFile } from './book/writeBook.js';
export {
  correctionsJsonSchema,
  findingSchema,
  sourcesJsonSchema,
  type BookCorrection,
  type BookSource,
} from './book/documents.js';
export { checksumOf } from './book/zipFile.js';
export { parseReadings, readingsText } from './merge/readingsFile.js';
export { readingSchema, readingsLog, READINGS_NAME, type Reading } from './merge/readings.js';
export { mergeSources } from './merge/mergeSources.js';
export { prepare, type Prepared } from './prepare.js';
export { prepareFurther } from './prepareFurther.js';
export type { Basis, Figure, Status, Unit, WorkingLine } from './figure.js';
export { InputError, problemText, type Problem } from './problem.js';
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
} from './intake.js';
export { readRows } from './read/readRows.js';
export { canonicalLayout } from './read/layout.js';
export {
  mappingJsonSchema,
  mappingSchema,
  parseMapping,
  type MappedColumn,
  type Mapping,
} from './read/mapping.js';
export type { Alternative, Conclusion } from './recognise/conclusion.js';
export type { Recognition } from './recognise/recognise.js';
export type { LeftOut, Open, Part } from './read/unpack.js';
export { checkSystem, parseSystem, systemJsonSchema } from './system/parse.js';
export { systemSchema, type System, type SystemConfiguration } from './system/schema.js';
export { checkLog } from './check/checkLog.js';
export { configurationsOf } from './system/configuration.js';
export { correctionSchema, correctionText, quantitySchema, type Correction } from './check/correction.js';
export { coverageOfSource, ENERGY_ONLY, type Coverage } from './check/coverage.js';
export { notesOfDay } from './account/journalNotes.js';
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
export type { Finding, Gap, Severity } from './check/finding.js';
export { dayNumberAt, dayNumberOfDate, dayOf, YEAR_MS, type Day } from './time/days.js';
export { isoOf, parseInstant } from './time/instant.js';
export { instantOfLocal, isZone, offsetAt, zoneOf, type Zone } from './time/zone.js';
export { seededRandom } from './statistics/random.js';
export {
  endMs,
  FLOWS,
  type Channel,
  type Column,
  type Flow,
  type Lump,
  type Log,
  type Quantity,
  type Range,
  type SourceLog,
} from './series/log.js';
export { withRoom } from './series/room.js';
export { rollOf, type DayNote, type RollDay } from './account/roll.js';
export { powerCourse, type PowerCourse } from './account/powerCourse.js';
export { reconcile, type Reckoning } from './account/reconcile.js';
export { lossCourse, type LossCourse } from './losses/course.js';
export {
  parseRun,
  runBudget,
  runJsonSchema,
  USUAL,
  type RunBudget,
  type ShortRun,
} from './losses/detective.js';
export {
  openedOutage,
  outageCourse,
  outageStarts,
  type OpenedOutage,
  type OutageCourse,
  type ToldOutage,
} from './outage/course.js';
export { FIRST_OPTIONS, optionOf, WHOLE_HOME, type Option } from './outage/option.js';
export {
  HORIZON_H,
  optionCourse,
  reserveAdvice,
  USUAL_RESERVE,
  type OptionCourse,
  type ReserveAdvice,
} from './outage/options.js';
export { usualRuntime, type LoadPart, type UsualRuntime } from './outage/usual.js';
export { hiddenStarts, START_RATIO } from './peak/course.js';
export type { Starts } from './outage/starts.js';
export { runtimeHours, type RunsOn } from './outage/supply.js';
export type { Outage } from './outage/ledger.js';
export { wearCourse, type CapacityCourse, type WearCourse } from './wear/course.js';
export { wearEvidence } from './export/wearEvidence.js';
export type { Clock } from './wear/warrantyState.js';
export { MARK, STRIP_SLOTS, stripsOf, type Strips } from './ledger/strips.js';
