/**
 * Measures reading, merging and reporting on a long log, each in a process of its own, against a plain scan of the same
 * bytes and two general-purpose readers. Everything is told as a ratio within this one run.
 */
import { spawnSync } from 'node:child_process';
import {
  createReadStream,
  existsSync,
  mkdirSync,
  openSync,
  closeSync,
  readFileSync,
  statSync,
  writeSync,
} from 'node:fs';
import { fileURLToPath } from 'node:url';
import { csvParseRows } from 'd3-dsv';
import Papa from 'papaparse';
import {
  canonicalLayout,
  checkLog,
  configurationsOf,
  isoOf,
  mergeSources,
  scenarioOutcome,
  outagesView,
  outageStarts,
  prepare,
  extendPrepared,
  report,
  readFile,
  readRows,
  surveyFile,
  type ReadLog,
  type SourceLog,
  WHOLE_HOME,
} from '@long-tally/core';

import { printFades } from './fades.js';
import { printFits } from './fits.js';
import { printFloors } from './floors.js';
import { BENCH_HOME } from './benchHome.js';
import { printCalibration } from './calibration.js';
import { printMaterial } from './material.js';
import { printOutages } from './outages.js';
import { printRoundTrips } from './roundTrips.js';
import { printSuns } from './suns.js';
import { printTrials } from './trials.js';
import { printTrips } from './trips.js';
import { printWhatifs } from './whatifs.js';
import { printWhatifSpeed } from './whatifSpeed.js';

const here = fileURLToPath(new URL('..', import.meta.url));
const folder = `${here}bench/data/`;
const YEARS_ROWS = 5_260_320;
const TEN_THOUSAND_DAYS_ROWS = 2_880_000;
const COLUMNS = 8;
/** By so much the home's solar time is ahead of UTC, h. */
const BENCH_NOON_H = BENCH_HOME.longitude! / 15;

/** An invented log: a sun that stands highest at the home's noon, a load, a battery that follows, in plain canonical CSV. */
function ensureLog(name: string, rows: number, stepMinutes: number): string {
  const path = folder + name;
  if (existsSync(path)) return path;
  mkdirSync(folder, { recursive: true });
  const out = openSync(path, 'w');
  writeSync(out, 'time,solar_w,load_w,grid_w,battery_w,soc_pct,battery_temp_c,outdoor_temp_c,grid_v\n');
  let stored = 5000;
  let lines: string[] = [];
  for (let i = 0; i < rows; i++) {
    const hour = ((i * stepMinutes) / 60 + BENCH_NOON_H) % 24;
    const solar = Math.max(0, 3600 * Math.sin((Math.PI * (hour - 6)) / 12) * (0.4 + ((i >> 9) % 7) / 10));
    const load = 350 + ((i * 7919) % 811) + (hour > 17 && hour < 22 ? 700 : 0);
    const soc = stored / 9000;
    const want = load - solar;
    const limit = soc > 0.97 ? Math.max(80, (1 - soc) * 90_000) : 5000;
    const battery =
      want < 0
        ? Math.max(want, -limit, stored >= 8999 ? -20 : -5000)
        : stored > 900
          ? Math.min(want, 5000)
          : 0;
    lines.push(
      `${isoOf(Date.UTC(2014, 0, 1) + i * stepMinutes * 60_000)},${solar.toFixed(1)},${load.toFixed(1)},${(want - battery).toFixed(1)},${battery.toFixed(1)},${(100 * soc).toFixed(1)},${(18 + 6 * soc).toFixed(1)},${(12 + 5 * Math.sin(hour / 4)).toFixed(1)},${(232 + (i % 50) / 10).toFixed(1)}`,
    );
    stored = Math.min(
      9000,
      Math.max(0, stored - ((battery > 0 ? battery / 0.95 : battery * 0.95) * stepMinutes) / 60),
    );
    if (lines.length === 20_000) {
      writeSync(out, `${lines.join('\n')}\n`);
      lines = [];
    }
  }
  if (lines.length > 0) writeSync(out, `${lines.join('\n')}\n`);
  closeSync(out);
  return path;
}

/** The yardstick: finds the line ends and reads the numbers of each row, nothing else. */
async function plainScan(path: string): Promise<void> {
  let sum = 0;
  let rows = 0;
  for await (const chunk of createReadStream(path, { highWaterMark: 1 << 22 }) as AsyncIterable<Uint8Array>) {
    const end = chunk.length;
    for (let p = 0; p < end; p++) {
      let digit = chunk[p]! - 48;
      if (digit === -38) rows++;
      if (digit < 0 || digit > 9) continue;
      let number = 0;
      while (digit >= 0 && digit <= 9) {
        number = number * 10 + digit;
        digit = chunk[++p]! - 48;
      }
      if (digit === -2) {
        let scale = 1;
        digit = chunk[++p]! - 48;
        while (digit >= 0 && digit <= 9) {
          number = number * 10 + digit;
          scale *= 10;
          digit = chunk[++p]! - 48;
        }
        number /= scale;
      }
      sum += number;
      if (digit === -38) rows++;
    }
  }
  if (rows < 1 || Number.isNaN(sum)) throw new Error('The scan read nothing.');
}

const bytesOf = (path: string): AsyncIterable<Uint8Array> =>
  createReadStream(path, { highWaterMark: 1 << 22 });

/** Reads rows of text into typed columns, as the other readers' users have to. */
function toColumns(take: (row: (cells: readonly string[]) => void) => void): void {
  const columns = Array.from({ length: COLUMNS + 1 }, () => new Float64Array(YEARS_ROWS));
  let rows = 0;
  take((cells) => {
    if (cells.length <= COLUMNS || cells[0] === 'time') return;
    columns[0]![rows] = Date.parse(cells[0]!);
    for (let c = 1; c <= COLUMNS; c++) columns[c]![rows] = Number(cells[c]);
    rows++;
  });
  if (rows !== YEARS_ROWS) throw new Error(`Read ${rows} rows.`);
}

/** A part prints its own seconds where the whole of it is not what is measured. */
const PARTS: Readonly<Record<string, (path: string) => Promise<Record<string, number>>>> = {
  scan: async (path) => ({ seconds: await timed(() => plainScan(path)) }),
  recognise: async (path) => ({
    seconds: await timed(() => surveyFile('bench.csv', () => bytesOf(path), BENCH_HOME)),
  }),
  parse: async (path) => ({
    seconds: await timed(() =>
      readRows('bench.csv', bytesOf(path), {
        headerLine: null,
        skipLines: 0,
        separator: 44,
        layoutOf: (names) => canonicalLayout(names, 'bench.csv'),
      }),
    ),
  }),
  whole: async (path) => {
    let logs: ReadLog[] = [];
    const read = await timed(async () => {
      logs = await readFile('bench.csv', () => bytesOf(path), BENCH_HOME);
    });
    const readMB = peakMB();
    const { log: source } = logs[0]!;
    let merged: ReturnType<typeof mergeSources> | null = null;
    const merge = await timed(() => {
      merged = mergeSources([source], BENCH_HOME.timeZone, []);
    });
    const mergeMB = peakMB();
    const check = await timed(() => void checkLog(merged!.log, configurationsOf(BENCH_HOME), BENCH_HOME));
    const checkMB = peakMB();
    merged = null;
    let prepared: ReturnType<typeof prepare> | null = null;
    const prepare_ = await timed(() => {
      prepared = prepare(BENCH_HOME, [source]);
    });
    const samplesMB = peakMB();
    const month = monthAfter(source);
    const added = await timed(() => {
      const grown = extendPrepared(prepared!, BENCH_HOME, [source, month], []);
      if (grown.log.count !== source.count + month.count) throw new Error('The month is not in the log.');
    });
    const addedMB = peakMB();
    const range = { fromMs: source.startMs, toMs: source.startMs + source.count * source.stepMs };
    const first = await timed(() => void report(prepared!, range));
    const replay = await timed(() => void outagesView(prepared!, range));
    const starts = outageStarts(prepared!, range)!;
    const option = await timed(() => void scenarioOutcome(starts, { ...WHOLE_HOME, hasSun: false }));
    const again: number[] = [];
    for (let i = 0; i < 15; i++) {
      const from = prepared!.entries[i * 7]!.fromMs;
      again.push(await timed(() => void report(prepared!, { ...range, fromMs: from }, 'days')));
    }
    return {
      seconds: read,
      merge,
      check,
      samples: prepare_ - merge - check,
      added,
      report: first,
      replay,
      option,
      again: again.sort((a, b) => a - b)[7]!,
      readMB,
      mergeMB,
      checkMB,
      samplesMB,
      addedMB,
    };
  },
  papaparse: async (path) => ({
    seconds: await timed(() =>
      toColumns((row) => {
        Papa.parse<string[]>(readFileSync(path, 'utf8'), { step: ({ data }) => row(data) });
      }),
    ),
  }),
  'd3-dsv': async (path) => ({
    seconds: await timed(() =>
      toColumns((row) => {
        csvParseRows(readFileSync(path, 'utf8'), (cells) => {
          row(cells);
          return null;
        });
      }),
    ),
  }),
};

/** The last month of a log once more, after its end. */
function monthAfter({ name, startMs, stepMs, count, columns }: SourceLog): SourceLog {
  const cells = 31 * 1440;
  return {
    name: `after ${name}`,
    startMs: startMs + count * stepMs,
    stepMs,
    count: cells,
    lumps: [],
    findings: [],
    columns: new Map(
      [...columns].map(([quantity, { values, resolution }]) => [
        quantity,
        { values: values.slice(count - cells), resolution },
      ]),
    ),
  };
}

/** The most memory this process has held so far, so after a phase the peak up to its end. */
function peakMB(): number {
  return process.resourceUsage().maxRSS / 1024;
}

async function timed(work: () => unknown): Promise<number> {
  const start = performance.now();
  await work();
  return (performance.now() - start) / 1000;
}

function measure(part: string, path: string): Record<string, number> {
  const { stdout, stderr, status } = spawnSync(
    process.execPath,
    ['--max-old-space-size=8192', '--import', 'tsx', fileURLToPath(import.meta.url), '--part', part, path],
    { encoding: 'utf8' },
  );
  if (status !== 0) throw new Error(`${part} failed: ${stderr}`);
  return JSON.parse(stdout) as Record<string, number>;
}

async function runPart(part: string, path: string): Promise<void> {
  const result = await PARTS[part]!(path);
  process.stdout.write(JSON.stringify({ ...result, peakMB: peakMB() }));
}

function runAll(): void {
  console.log('Writing the logs (once) …');
  const path = ensureLog('ten-years-by-minute.csv', YEARS_ROWS, 1);
  const days = ensureLog('ten-thousand-days-by-five-minutes.csv', TEN_THOUSAND_DAYS_ROWS, 5);
  const megabytes = statSync(path).size / 1e6;
  const columnsMB = (YEARS_ROWS * COLUMNS * 8) / 1048576;
  console.log(`${YEARS_ROWS} rows × ${COLUMNS} columns, ${megabytes.toFixed(0)} MB\n`);
  const scan = measure('scan', path);
  const idle = scan['peakMB']!;
  const line = (name: string, seconds: number, peakMB?: number) =>
    console.log(
      `${name.padEnd(34)} ${seconds.toFixed(2).padStart(7)} s  ${(seconds / scan['seconds']!).toFixed(2).padStart(6)} × scan  ${(YEARS_ROWS / seconds / 1e6).toFixed(2).padStart(6)} M rows/s${peakMB === undefined ? '' : `  peak ${peakMB.toFixed(0)} MB`}`,
    );
  line('plain scan', scan['seconds']!, idle);
  const recognise = measure('recognise', path);
  line('recognise', recognise['seconds']!, recognise['peakMB']);
  const parse = measure('parse', path);
  line('parse', parse['seconds']!, parse['peakMB']);
  const whole = measure('whole', path);
  const merged = whole['seconds']!;
  line('parse and place on the grid', merged, whole['readMB']);
  line('merge', whole['merge']!, whole['mergeMB']);
  line('check', whole['check']!, whole['checkMB']);
  line('go through the samples', whole['samples']!, whole['samplesMB']);
  line('a month more', whole['added']!, whole['addedMB']);
  line('report of the whole range', whole['report']!, whole['peakMB']);
  line('outages: ledger, replay, peaks, reserves', whole['replay']!);
  line('one more option, 87 600 starts three times', whole['option']!);
  line('figures of another range', whole['again']!);
  const papaparse = measure('papaparse', path);
  line('papaparse into columns', papaparse['seconds']!, papaparse['peakMB']);
  const d3 = measure('d3-dsv', path);
  line('d3-dsv into columns', d3['seconds']!, d3['peakMB']);
  const start = performance.now();
  const cli = spawnSync(
    process.execPath,
    ['cli/tally.mjs', 'analyse', '--system', ensureSystem(), '--log', days, '--out', `${folder}report.json`],
    { cwd: here, encoding: 'utf8' },
  );
  if (cli.status !== 0) throw new Error(cli.stderr);
  const cliSeconds = (performance.now() - start) / 1000;
  const verdict = (name: string, value: number, bound: number, atMost: boolean) =>
    console.log(
      `${(atMost ? value <= bound : value >= bound) ? 'met ' : 'MISSED'} ${name}: ${value.toFixed(2)} (${atMost ? 'at most' : 'at least'} ${bound})`,
    );
  const chain = whole['check']! + whole['samples']! + whole['report']!;
  const parseAndMerge = merged + whole['merge']!;
  console.log();
  verdict('parse and merge ÷ plain scan', parseAndMerge / scan['seconds']!, 2.5, true);
  verdict('papaparse ÷ parse and merge', papaparse['seconds']! / parseAndMerge, 4, false);
  verdict('whole report ÷ parse', chain / merged, 1.5, true);
  verdict('peak memory ÷ columns kept', whole['samplesMB']! / columnsMB, 6, true);
  verdict('a changed range over ten years of days, ms', whole['again']! * 1000, 50, true);
  verdict('ten thousand days of 5 minutes through the command line, s', cliSeconds, 10, true);
}

function ensureSystem(): string {
  const path = `${folder}system.json`;
  const out = openSync(path, 'w');
  writeSync(out, JSON.stringify(BENCH_HOME));
  closeSync(out);
  return path;
}

const at = process.argv.indexOf('--part');
if (at > 0) await runPart(process.argv[at + 1]!, process.argv[at + 2]!);
else {
  if (!process.argv.includes('--fits')) runAll();
  printFits();
  printFloors();
  printFades();
  printOutages();
  printSuns();
  printRoundTrips();
  printTrips();
  printTrials();
  printWhatifs();
  printWhatifSpeed();
  await printMaterial();
  printCalibration();
}
