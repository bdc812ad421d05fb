import { canonicalCsv, canonicalFields, totalsCsv, TOTALS_FIELDS } from './canonicalCsv.js';
import { csvOf, type Field } from '../model/csvTable.js';
import { READING_FIELDS, readingsText } from '../import/merge/readingsFile.js';
import type { Reading } from '../import/merge/readings.js';
import type { Prepared } from '../passes/prepare.js';
import { report } from '../report/report.js';
import { writtenReport } from '../report/writtenReport.js';
import { endMs } from '../model/log.js';
import { journalText } from '../system/journal.js';
import { isoOf } from '../time/instant.js';
import type { Offer } from '../books/money/offers.js';
import type { ReportLayout } from '../system/reportLayout.js';
import type { Settings } from '../system/settings.js';
import type { ScenarioFile } from '../books/whatif/scenarioFile.js';
import type { Appliance } from '../books/trial/combinations.js';
import {
  correctionsText,
  offersText,
  sourcesText,
  trialsText,
  type BookCorrection,
  type BookSource,
  type BookTrial,
} from './documents.js';
import { evidenceTables } from './evidenceTables.js';
import { BOOK_VERSION, zipOf, type Member } from './zipFile.js';

/** A file as it came, to be kept in a book. */
export interface BookFile {
  readonly path: string;
  readonly open: () => AsyncIterable<Uint8Array>;
}

/** Everything of a home that a book keeps beside what is computed from it. */
export interface BookContents {
  /** The home's own mark, so that a book is known again. */
  readonly id: string;
  readonly files: readonly BookFile[];
  readonly sources: readonly BookSource[];
  readonly readings: readonly Reading[];
  readonly corrections: readonly BookCorrection[];
  readonly dismissals: readonly string[];
  readonly trials: readonly BookTrial[];
  readonly appliances: readonly Appliance[];
  readonly offers: readonly Offer[];
  /** What-if scenarios that are kept with the home. */
  readonly scenarios: readonly ScenarioFile[];
  /** How its report was last set out; null where it never was. */
  readonly reportLayout: ReportLayout | null;
  /** How its reader wants things shown; null where nothing was chosen. */
  readonly settings: Settings | null;
}

/** The path under which a file is kept: its number keeps two of one name apart, its name stays readable. */
export function pathOfFile(
  index: number,
  name: string,
  folder: 'sources' | 'attachments' = 'sources',
): string {
  const plain = name.replace(/[^\p{L}\p{N} ._()-]+/gu, '_').replace(/^\.+/, '_');
  return `${folder}/${numbered(index)} ${plain.slice(-120)}`;
}

function numbered(index: number): string {
  return String(index + 1).padStart(3, '0');
}

/**
 * The book of a home, `long-tally/book@1`, as the bytes of its zip file: what was brought, byte by byte, what was decided
 * about it, and what follows from it.
 * @param prepared null for a home without a log
 * @param savedAt epoch ms
 * @source Data Package 2 and Table Schema (datapackage.org), from memory
 */
export function bookOf(
  contents: BookContents,
  home: Pick<Prepared, 'system' | 'journal'>,
  prepared: Prepared | null,
  savedAt: number,
): AsyncGenerator<Uint8Array> {
  return zipOf(membersOf(contents, home, prepared, savedAt), savedAt);
}

interface Table {
  readonly path: string;
  readonly title: string;
  readonly fields: readonly Field[];
}

async function* membersOf(
  {
    id,
    files,
    sources,
    readings,
    corrections,
    dismissals,
    trials,
    appliances,
    offers,
    scenarios,
    reportLayout,
    settings,
  }: BookContents,
  { system, journal }: Pick<Prepared, 'system' | 'journal'>,
  prepared: Prepared | null,
  savedAt: number,
): AsyncGenerator<Member> {
  const tables: Table[] = [];
  const text = (path: string, content: string): Member => ({ path, chunks: [content] });
  const json = (value: unknown) => `${JSON.stringify(value, null, 1)}\n`;
  const listed = (path: string, title: string, fields: readonly Field[]) =>
    void tables.push({ path, title, fields });
  yield await Promise.resolve(text('system.json', json(system)));
  yield text('journal.json', journalText(journal));
  yield text('corrections.json', correctionsText(corrections, dismissals));
  listed('readings.csv', 'Counters read by hand', READING_FIELDS);
  yield text('readings.csv', readingsText(readings));
  const named: Parameters<typeof sourcesText>[0][number][] = [];
  for (const [i, { mapping, ...source }] of sources.entries()) {
    const path = mapping ? `mappings/${numbered(i)}.json` : null;
    if (path) yield text(path, json(mapping));
    named.push({ ...source, mapping: path });
  }
  yield text('sources.json', sourcesText(named));
  const run: Parameters<typeof trialsText>[0][number][] = [];
  for (const [i, { file, ...trial }] of trials.entries()) {
    const path = `trials/${numbered(i)}.json`;
    yield text(path, json(file));
    run.push({ ...trial, path });
  }
  yield text('trials.json', trialsText(run));
  if (appliances.length > 0)
    yield text('appliances.json', json({ schema: 'long-tally/appliances@1', appliances }));
  if (offers.length > 0) yield text('offers.json', offersText(offers));
  if (reportLayout) yield text('report-layout.json', json(reportLayout));
  if (settings) yield text('settings.json', json(settings));
  for (const [i, scenario] of scenarios.entries())
    yield text(`scenarios/${numbered(i)}.json`, json(scenario));
  for (const { path, open } of files) yield { path, chunks: open() };
  if (prepared) {
    const { log } = prepared;
    listed('log.csv', 'The log of all sources, corrected', canonicalFields(log));
    yield { path: 'log.csv', chunks: canonicalCsv(log) };
    const totals = totalsCsv(prepared);
    if (totals !== null) {
      listed('totals.csv', 'Energies known without their course', TOTALS_FIELDS);
      yield text('totals.csv', totals);
    }
    const whole = report(prepared, { fromMs: log.startMs, toMs: endMs(log) });
    yield text('report.json', json(writtenReport(whole)));
    for (const [name, table] of Object.entries(evidenceTables(whole))) {
      listed(`evidence/${name}.csv`, `Evidence: ${name}`, table.fields);
      yield text(`evidence/${name}.csv`, csvOf(table));
    }
  }
  yield text('datapackage.json', json(packageOf(id, system.name, savedAt, tables)));
}

/** The description of the book by the open standard: every table with its columns. */
function packageOf(id: string, title: string, savedAt: number, tables: readonly Table[]) {
  return {
    $schema: 'https://datapackage.org/profiles/2.0/datapackage.json',
    name: 'long-tally-book',
    id,
    title,
    created: isoOf(savedAt),
    'long-tally': BOOK_VERSION,
    resources: tables.map(({ path, title: what, fields }) => ({
      name: path.replace(/\.csv$/, '').replace(/[^a-z0-9]+/g, '-'),
      path,
      title: what,
      type: 'table',
      format: 'csv',
      mediatype: 'text/csv',
      encoding: 'utf-8',
      schema: { fields, missingValues: [''] },
    })),
  };
}
