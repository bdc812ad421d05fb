import { execFileSync, spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { strToU8, unzipSync, zipSync } from 'fflate';
import type { Report } from '@long-tally/core';
import { SHAPES } from '../../core/src/testing/corpus.js';
import { CORPUS_HOME, series } from '../../core/src/testing/shape.js';
import { file, folder, root, tally } from './testing.js';
import { longTest } from '../../core/src/testing/long.js';

const list = series(Date.UTC(2024, 4, 3) - 3_600_000, 6, 30);
const written = (name: string) => SHAPES.find((shape) => shape.name === name)!.write(list);
const system = file('home.json', JSON.stringify(CORPUS_HOME));
const a = file('a.csv', written('German words'));
const b = file('b.zip', written('a zip of two halves'));
const readings = file(
  'readings.csv',
  'time,import_kwh\n2024-04-01T00:00:00Z,100\n2024-04-20T00:00:00Z,161.5\n',
);
const journal = file(
  'journal.json',
  JSON.stringify({
    schema: 'long-tally/journal@1',
    notes: [{ from: '2024-05-04T10:00:00Z', to: '2024-05-04T12:00:00Z', kind: 'test' }],
  }),
);
const home = ['--system', system, '--log', a, '--log', b, '--readings', readings, '--journal', journal];
const book = join(folder, 'home.zip');

describe('tally book', () => {
  test('saves a home, whose report is that of its system and logs, on every command', async () => {
    expect(await tally('book', ...home, '--out', book)).toEqual({ code: 0, out: '', err: '' });
    for (const command of [['analyse'], ['outages'], ['reconcile', '--stated', '90']]) {
      const one = await tally(...command, ...home);
      const other = await tally(...command, '--book', book);
      expect([command, one.code, other.code]).toEqual([command, 0, 0]);
      expect(JSON.parse(other.out)).toEqual(JSON.parse(one.out));
    }
    const { figures } = JSON.parse((await tally('analyse', '--book', book)).out) as Report;
    expect(figures['account.import']!.value).toBeGreaterThan(61.5);
  });

  longTest('keeps the trials that were given, and its figures follow them', async () => {
    const trial = file(
      'trial.json',
      JSON.stringify({
        schema: 'long-tally/trial@1',
        kind: 'drawdown',
        readings: [
          { at: '2024-05-05T20:00:00Z', soc: 0.9, dischargeKWh: 100, chargeKWh: 90 },
          { at: '2024-05-06T04:00:00Z', soc: 0.3, dischargeKWh: 105.5, chargeKWh: 90 },
        ],
      }),
    );
    const tested = join(folder, 'tested.zip');
    expect((await tally('book', ...home, '--trial', trial, '--out', tested)).code).toBe(0);
    const [of, without, opened] = [
      await tally('analyse', ...home, '--trial', trial),
      await tally('analyse', ...home),
      await tally('analyse', '--book', tested),
    ].map(({ out }) => JSON.parse(out) as Report);
    expect(opened).toEqual(of);
    expect(opened).not.toEqual(without);
  });

  test('writes what another unpacker and sha256sum find whole', () => {
    for (const [path, bytes] of Object.entries(unzipSync(readFileSync(book)))) {
      mkdirSync(join(folder, 'book', dirname(path)), { recursive: true });
      writeFileSync(join(folder, 'book', path), bytes);
    }
    const said = execFileSync('sha256sum', ['-c', 'MANIFEST.sha256'], {
      cwd: join(folder, 'book'),
      encoding: 'utf8',
    });
    expect(
      said
        .trim()
        .split('\n')
        .every((line) => line.endsWith(': OK')),
    ).toBe(true);
  });

  test('refuses a book that is damaged, naming the member, and reads what is whole when it is told to', async () => {
    const members = unzipSync(readFileSync(book));
    const name = Object.keys(members).find((path) => path.endsWith('a.csv'))!;
    const damaged = file('damaged.zip', zipSync({ ...members, [name]: strToU8('gone') }));
    const { code, err } = await tally('analyse', '--book', damaged);
    expect(code).toBe(2);
    expect(err).toMatch(/damaged\.zip › sources\/001 a\.csv: This member is not what it was.*--salvage/);
    const salvaged = await tally('analyse', '--book', damaged, '--salvage');
    expect(salvaged.code).toBe(0);
    const { findings } = JSON.parse(salvaged.out) as Report;
    expect(findings.map(({ message }) => message).join()).toContain('sources/001 a.csv is not read');
  });

  test.each([
    ['neither a book nor a system', ['analyse'], 1, /Name a book with --book/],
    ['a book and a system', ['analyse', '--book', book, '--system', system], 1, /--system is in the book/],
    ['no file to write', ['book', ...home], 1, /Name the file to write with --out/],
    ['a book that is not there', ['analyse', '--book', 'none.zip'], 2, /none\.zip: This file is not there/],
    ['a log for a book', ['analyse', '--book', a], 2, /damaged or cut short/],
    [
      'a folder that is not there',
      ['analyse', ...home, '--out', join(folder, 'none', 'r.json')],
      2,
      /folder of this file does not exist/,
    ],
    ['a folder for a file', ['analyse', ...home, '--out', folder], 2, /This is a folder/],
  ] as const)('%s', async (_name, args, code, says) => {
    const ended = await tally(...args);
    expect([ended.code, ended.err.includes('    at ')]).toEqual([code, false]);
    expect(ended.err).toMatch(says);
  });

  test('leaves the file that stood there when it cannot be written', async () => {
    const kept = file('kept.zip', 'what was here');
    const { code } = await tally('book', '--system', system, '--log', 'none.csv', '--out', kept);
    expect([code, readFileSync(kept, 'utf8'), existsSync(`${kept}.part`)]).toEqual([
      2,
      'what was here',
      false,
    ]);
  });
});

describe('the command line and its terminal', () => {
  longTest('ends quietly when its reader has read enough', async () => {
    const child = spawn(process.execPath, [join(root, 'cli/tally.mjs'), 'analyse', ...home], {
      cwd: root,
      env: { ...process.env, NODE_OPTIONS: '' },
    });
    let err = '';
    child.stderr.on('data', (text: Buffer) => (err += text.toString()));
    child.stdout.once('data', () => child.stdout.destroy());
    const code = await new Promise((resolve) => child.on('exit', resolve));
    expect([code, err]).toEqual([0, '']);
  });

  test('never shows a control character of a file', async () => {
    const name = '\u001b]0;owned\u0007\u009b2J';
    const bad = file('bad.csv', `time,${name}\n2024-05-01T00:00:00Z,1\n2024-05-01T00:05:00Z,2\n`);
    const { code, err } = await tally('analyse', '--system', system, '--log', bad);
    expect(code).toBe(2);
    expect(err).toContain('\ufffd');
    expect(Array.from(err).filter((sign) => /\p{Cc}/u.test(sign) && sign !== '\n')).toEqual([]);
    const named = file(
      'named.csv',
      `time,load_w,${name}\n2024-05-01T00:00:00Z,1,x\n2024-05-01T00:05:00Z,2,x\n`,
    );
    writeFileSync(
      join(folder, 'odd.json'),
      '{"schema":"long-tally/system@1","name":"\\u009bHome","timeZone":"UTC"}',
    );
    const { out } = await tally('analyse', '--system', join(folder, 'odd.json'), '--log', named);
    expect(Array.from(out).filter((sign) => /\p{Cc}/u.test(sign) && sign !== '\n')).toEqual([]);
  });

  test('says what is wrong in words of its own', async () => {
    const bad = file(
      'typed.json',
      '{"schema":"long-tally/system@1","name":5,"timeZone":"UTC","latitude":"high","configurations":{}}',
    );
    const { code, err } = await tally('validate', bad);
    expect(code).toBe(2);
    expect(err.trim().split('\n')).toEqual([
      `${bad}, key name: Found 5. Write text between quotes.`,
      `${bad}, key latitude: Found "high". Write a number.`,
      `${bad}, key configurations: Found {}. Write a list.`,
    ]);
  });
});
