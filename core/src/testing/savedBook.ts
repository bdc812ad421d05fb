import { gzipSync, strToU8 } from 'fflate';
import { countingTrials, type BookCorrection, type BookTrial } from '../bookFile/documents.js';
import { bookOf, pathOfFile } from '../bookFile/writeBook.js';
import type { Offer } from '../books/money/offers.js';
import { trialRecords } from '../books/trial/trialRecords.js';
import type { ScenarioFile } from '../books/whatif/scenarioFile.js';
import type { Reading } from '../import/merge/readings.js';
import { readingsLog } from '../import/merge/readings.js';
import { readFile, type FileLog } from '../import/readLog.js';
import { prepare } from '../passes/prepare.js';
import type { JournalNote } from '../system/journal.js';
import type { ReportLayout } from '../system/reportLayout.js';
import { DEFAULT_SETTINGS, type Settings } from '../system/settings.js';
import { SHAPES } from './corpus.js';
import { bytesOf } from './logs.js';
import { CORPUS_HOME, series } from './shape.js';

const FROM = Date.UTC(2024, 4, 3) - 3_600_000;
const SAVED = Date.UTC(2024, 6, 1, 12);
const list = series(FROM, 12, 15);
const written = (name: string) => {
  const content = SHAPES.find((shape) => shape.name === name)!.write(list);
  return typeof content === 'string' ? strToU8(content) : content;
};
/** Four files of one home: a foreign log, an archive with a log and a readme, a packed one, a canonical one. */
export const FILES: readonly (readonly [name: string, bytes: Uint8Array])[] = [
  ['Erzeugung März;1.csv', written('German words')],
  ['halves.zip', written('a zip of two halves')],
  ['log.csv.gz', gzipSync(written('kilowatts'))],
  ['log.csv', written('canonical')],
];
export const readings: Reading[] = [
  { atMs: FROM - 20 * 86_400_000, counters: { import: 1000, solar: 50.5 }, note: '=by hand, "kitchen"' },
  { atMs: FROM - 2 * 86_400_000, counters: { import: 1090.4, solar: 99 }, note: '' },
];
export const journal: JournalNote[] = [
  { fromMs: FROM + 86_400_000, toMs: FROM + 90_000_000, kind: 'test', text: 'switch off', leaveOut: false },
  { fromMs: FROM + 3 * 86_400_000, toMs: FROM + 3.2 * 86_400_000, kind: 'fault', text: 'ü', leaveOut: true },
];
export const corrections: BookCorrection[] = [
  { correction: { kind: 'lead', source: 'log.csv', quantity: 'load' }, reason: 'better', madeAt: 5 },
  {
    correction: { kind: 'scale', source: 'log.csv', quantity: 'solar', factor: 1.02 },
    reason: '',
    madeAt: 6,
  },
];

const at = (hours: number) => new Date(FROM + hours * 3_600_000).toISOString();
export const PICTURE = 'attachments/001 display.png';
const drawdown: BookTrial['file'] = {
  schema: 'long-tally/trial@1',
  kind: 'drawdown',
  readings: [
    { at: at(20), soc: 0.9, dischargeKWh: 100, chargeKWh: 90 },
    { at: at(22), soc: 0.99 },
    { at: at(30), soc: 0.3, dischargeKWh: 105.5, chargeKWh: 90 },
  ],
};
export const trials: BookTrial[] = [
  {
    file: drawdown,
    struck: [1],
    state: 'done',
    madeAt: 9,
    pictures: [{ path: PICTURE, name: 'display.png', place: 2, addedAt: 10 }],
  },
  { file: { ...drawdown, name: 'again' }, struck: [], state: 'running', madeAt: 11, pictures: [] },
];
export const appliances = [
  { name: 'well pump', watts: 900, startFactor: 4, leg: 1 as const, essential: true, canWait: false },
];
export const offers: Offer[] = [{ name: 'ten kWh', price: 6000, usableKWh: 10, years: 10 }];
export const scenarios: ScenarioFile[] = [
  { schema: 'long-tally/scenario@1', name: 'one more', change: { battery: { modules: 3 } } },
  { schema: 'long-tally/scenario@1', name: 'no battery', change: { noBattery: true } },
];
export const settings: Settings = { ...DEFAULT_SETTINGS, dates: '2024-09-14', leadingSchool: 'supply' };
export const reportLayout: ReportLayout = {
  schema: 'long-tally/report-layout@1',
  kind: 'evidence',
  heading: 'Mill Lane',
  remarks: '',
  claim: 'the battery fades faster than its warranty says',
  without: ['money'],
  paper: 'A4',
};
export const picture = Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 1, 2, 3);

interface Saved {
  readonly bytes: Uint8Array;
  readonly prepared: ReturnType<typeof prepare>;
}

async function made(): Promise<Saved> {
  const read: { log: FileLog; path: string; fileName: string }[] = [];
  for (const [i, [fileName, bytes]] of FILES.entries())
    for (const log of await readFile(fileName, () => bytesOf(bytes), CORPUS_HOME))
      read.push({ log, path: pathOfFile(i, fileName), fileName });
  const counting = read.filter(({ fileName }) => fileName !== 'log.csv.gz').map(({ log }) => log.log);
  const layers = corrections.map(({ correction }) => correction);
  const prepared = prepare(
    CORPUS_HOME,
    [...counting, readingsLog(readings)!],
    layers,
    journal,
    trialRecords(countingTrials(trials), CORPUS_HOME),
  );
  const chunks: Uint8Array[] = [];
  for await (const chunk of bookOf(
    {
      id: 'home-1',
      files: [
        ...FILES.map(([name, bytes], i) => ({ path: pathOfFile(i, name), open: () => bytesOf(bytes) })),
        { path: PICTURE, open: () => bytesOf(picture) },
      ],
      sources: read.map(({ log, path, fileName }) => ({
        path,
        fileName,
        name: log.log.name,
        mapping: log.mapping,
        importedAt: 7,
        removedAt: fileName === 'log.csv.gz' ? 8 : null,
        leftOut: log.log.findings.filter(({ code }) => code === 'left-out'),
      })),
      readings,
      corrections,
      dismissals: ['gaps 5'],
      trials,
      appliances,
      offers,
      scenarios,
      reportLayout,
      settings,
    },
    prepared,
    prepared,
    SAVED,
  ))
    chunks.push(chunk);
  return { bytes: new Uint8Array(Buffer.concat(chunks)), prepared };
}

let kept: Promise<Saved> | undefined;
/** The home saved as a book, once for all tests. */
export const saved = () => (kept ??= made());
