// What the other packages may use, by kind.

// Central types
export { BASIS, type Basis, type BasisKey } from './model/basis.js';
export { type Correction, correctionSchema, correctionText, quantitySchema } from './model/correction.js';
export { plural } from './model/counted.js';
export type { Figure, FigureEntry, Interval, Method, Status, Unit, WorkingLine } from './model/figure.js';
export type { Finding, Gap, Severity } from './model/finding.js';
export { withRoom } from './model/growable.js';
export {
  type Channel,
  type Column,
  endMs,
  type Log,
  type SourceLog,
  type UnshapedEnergy,
} from './model/log.js';
export { InputError, type Problem, problemText } from './model/problem.js';
export { type Flow, FLOWS, INSTANT_QUANTITIES, type Quantity, quantityText } from './model/quantity.js';
export type { Range } from './model/range.js';

// Statistics
export { seededRandom } from './statistics/random.js';

// Time
export { type Day, dayNumberAt, dayNumberOfDate, dayOf, YEAR_DAYS, YEAR_MS } from './time/days.js';
export { MONTH_NAMES, MONTHS_SHORT } from './time/months.js';
export { isoOf, parseInstant } from './time/instant.js';
export { instantOfLocal, isZone, offsetAt, type Zone, zoneOf } from './time/zone.js';

// What is described of a home
export {
  type Configuration,
  configurationAt,
  configurationsOf,
  gridFreeWhOf,
} from './system/configuration.js';
export {
  journalJsonSchema,
  type JournalNote,
  journalText,
  NOTE_KINDS,
  type NoteKind,
  noteSchema,
  parseJournal,
} from './system/journal.js';
export { checkSystem, parseSystem, systemJsonSchema } from './system/parse.js';
export { DEFAULT_SETTINGS, parseSettings, type Settings, settingsSchema } from './system/settings.js';
export { type System, type SystemConfiguration, systemSchema } from './system/schema.js';
export { darkMonths } from './system/season.js';

// From files to a log
export { mergeSources } from './import/merge/mergeSources.js';
export { type Reading, counterText, readingSchema, readingsLog } from './import/merge/readings.js';
export { parseReadings, readingsText } from './import/merge/readingsFile.js';
export { canonicalLayout } from './import/read/layout.js';
export {
  type MappedColumn,
  type Mapping,
  mappingJsonSchema,
  mappingSchema,
  parseMapping,
  type Role,
} from './import/read/mapping.js';
export { readRows } from './import/read/readRows.js';
export type { LeftOut, Open, Part } from './import/read/unpack.js';
export {
  type FileLog,
  type FileSurvey,
  LEFT_OUT,
  leftOutFinding,
  readFile,
  type ReadLog,
  readPart,
  type Survey,
  surveyFile,
} from './import/readLog.js';
export type { Alternative, Conclusion } from './import/recognise/conclusion.js';
export type { Recognition } from './import/recognise/recognise.js';

// What is wrong with a log
export { checkLog } from './check/checkLog.js';
export type { Comparison } from './check/compareSources.js';
export { type Coverage, coverageOfSource, ENERGY_ONLY } from './check/coverage.js';

// A home prepared, and its ranges
export { MARK, STRIP_SLOTS, type Strips, stripsOf } from './passes/dayStrips.js';
export { extendPrepared } from './passes/extendPrepared.js';
export type { Outage } from './passes/outages.js';
export { rangeDataOf, prepare, type Prepared } from './passes/prepare.js';
export { rangeOfDates } from './passes/rangeData.js';

// The model of a battery
export { chargeTaken, dischargeGiven, type StorageParameters, storedAfter } from './storage/parameters.js';

// Books: areas of the work
export { type Reckoning, reconcile } from './books/account/reconcile.js';
export { describedRunsOn } from './books/outage/describedRuntime.js';
export {
  parseRun,
  runBudget,
  type RunBudget,
  runJsonSchema,
  type ShortRun,
  USUAL,
} from './books/losses/shortRun.js';
export type { Starts } from './books/outage/outageStarts.js';
export { FIRST_SCENARIOS, type Scenario, scenarioOf, WHOLE_HOME } from './books/outage/scenario.js';
export {
  HORIZON_H,
  reserveAdvice,
  type ReserveAdvice,
  scenarioOutcome,
  type ScenarioOutcome,
  USUAL_RESERVE,
} from './books/outage/scenarioOutcome.js';
export type { ToldOutage } from './books/outage/toldOutages.js';
export { type LoadPart, type TypicalRuntime, typicalRuntime } from './books/outage/typicalRuntime.js';
export { hiddenStarts, START_RATIO } from './books/peak/peakLoads.js';
export { type RunsOn, runtimeHours } from './books/shared/homeStorage.js';
export {
  type Appliance,
  appliancesSchema,
  combinationsOf,
  type CombinationsOfUnits,
  parseAppliances,
  USUAL_STARTS,
} from './books/trial/combinations.js';
export {
  knownBill,
  readStatedBill,
  type BillReading,
  type StatedBill,
  type StatedBillReading,
} from './books/money/statedBill.js';
export {
  batteryUse,
  compareOffers,
  offerSchema,
  type BatteryUse,
  type Offer,
  type OfferOutcome,
} from './books/money/offers.js';
export { ratesOfDay } from './system/tariffs.js';
export { quantile } from './statistics/quantile.js';
export { csvOf, type Field } from './model/csvTable.js';
export { TRIAL_KINDS, type TrialKind, type TrialRecord } from './model/trialRecord.js';
export { trialRecords } from './books/trial/trialRecords.js';
export { trialWorth, type TrialWorth } from './books/trial/trialWorth.js';
export { trialDifferences, type TrialDifference } from './books/trial/trialDifferences.js';
export { evaluateTrial } from './books/trial/evaluate.js';
export { trialStretches, type TrialStretch } from './books/trial/stretches.js';
export {
  parseTrial,
  parseTrialFile,
  type Trial,
  TRIAL_EVENTS,
  type TrialFile,
  trialJsonSchema,
  trialOf,
  type TrialReading,
  trialSchema,
} from './books/trial/trialFile.js';
export type { TrialCheck, TrialResult } from './books/trial/trialResult.js';
export type { TypedBesideLogged } from './books/trial/typedBesideLogged.js';
export type { Clock } from './books/wear/warrantyState.js';

export { YEAR_KEYS, type AnotherYear, type YearKey } from './books/whatif/anotherYear.js';
export type { Proposal } from './books/whatif/betterDescription.js';
export { bestSettings, type BestSettings } from './books/whatif/bestSettings.js';
export { surplusOf, type Surplus } from './books/whatif/surplus.js';
export {
  parseScenario,
  type ScenarioFile,
  scenarioJsonSchema,
  scenarioSchema,
} from './books/whatif/scenarioFile.js';
export type { CourseHours, MonthKey, MonthValues } from './books/whatif/scenarioCourses.js';
export type { ScenarioMonth, WhatifFigure } from './books/whatif/scenarioFigures.js';
export {
  type ScenarioRunner,
  scenarioRunner,
  type WhatifBase,
  type WhatifScenario,
} from './books/whatif/scenarioRunner.js';
export type { InverterCounts } from './books/whatif/inverterCounts.js';
export { type StormPlan, stormPlan } from './books/whatif/stormPlan.js';
export {
  changeAt,
  crossedOf,
  kneeOf,
  LEAST_GAIN,
  reachOf,
  type Sweep,
  type SweepPoint,
  WANTED_DAYS,
} from './books/whatif/sweeps.js';
export { whatif, type Whatif } from './books/whatif/whatif.js';

// Report and registry
export { figureEntry, figuresTable, ALL_FIGURES, REGISTRY } from './report/registry.js';
export { analyse, report } from './report/report.js';
export { type RangeReport, type Report, type ReportDay, type ReportFinding } from './report/reportFormat.js';
export { type WrittenFigure, type WrittenReport, writtenReport } from './report/writtenReport.js';
export { reportJsonSchema } from './report/reportSchema.js';

// What pages draw
export { COMPARED, type ConfigurationChange } from './views/configurationChanges.js';
export { noteOfTrial, notesOfDay } from './views/journalNotes.js';
export { type LossesView, lossesView } from './views/losses.js';
export {
  parseReportLayout,
  LEVEL_ENERGIES,
  REPORT_KINDS,
  reportLayoutSchema,
  type ReportLayout,
} from './system/reportLayout.js';
export { STATEMENT_PARTS, statementOf, type Statement, type StatementPart } from './views/statement.js';
export { pricePreview, type PricePreview } from './views/pricePreview.js';
export { type BillRow, type MoneyView, moneyView } from './views/money.js';
export type { PaybackFan } from './books/money/payback.js';
export {
  openedOutage,
  type OpenedOutage,
  outageStarts,
  outagesView,
  type OutagesView,
} from './views/outages.js';
export {
  byMeter,
  type Cause,
  CAUSES,
  type Contact,
  contactsOf,
  type DayRange,
  type Grain,
  GRAINS,
  type Period,
  periodsOf,
} from './views/periods.js';
export { powerSeries, type PowerSeries } from './views/powerSeries.js';
export { stepText } from './model/hoursText.js';
export { openedStop, type OpenedStop } from './views/stops.js';
export { faultText, type Fault, type FaultRun } from './books/peak/faultRuns.js';
export { daysBy, RANKED, type Ranked, type RankedDay, rankedDays } from './views/rankedDays.js';
export { type DayNote, type RollDay, rollOf } from './views/roll.js';
export type { DayWeather } from './views/dayWeather.js';
export { partsView, type PartView, type UsePerUnit } from './views/parts.js';
export { type Row, rowsOf, type Subtotal, subtotal } from './views/rollRows.js';
export { sunTimes } from './views/sunTimes.js';
export { type CapacityLine, wearView, type WearView } from './views/wear.js';

// The book of a home, and logs as files
export { canonicalCsv, totalsCsv } from './bookFile/canonicalCsv.js';
export {
  type BookCorrection,
  type BookSource,
  type BookTrial,
  correctionsJsonSchema,
  countingFile,
  countingTrials,
  findingSchema,
  sourcesJsonSchema,
  trialsJsonSchema,
} from './bookFile/documents.js';
export {
  type BookLogs,
  booksIn,
  logsOfBook,
  openBook,
  type OpenedBook,
  readBook,
} from './bookFile/openBook.js';
export { wearEvidence } from './bookFile/wearEvidence.js';
export { type BookContents, type BookFile, bookOf, pathOfFile } from './bookFile/writeBook.js';
export { checksumOf } from './bookFile/zipFile.js';
