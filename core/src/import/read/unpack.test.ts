import { deflateRawSync } from 'node:zlib';
import { gzipSync, strToU8, zipSync } from 'fflate';
import { describe, expect, test } from '@jest/globals';
import { readFile, readPart, surveyFile } from '../readLog.js';
import { InputError } from '../../model/problem.js';
import { bytesOf, csvOf, PLAIN_HOME } from '../../testing/logs.js';
import { unpack } from './unpack.js';
import { longTest } from '../../testing/long.js';

const START = '2024-01-01T00:00:00Z';
const day = (n: number) =>
  csvOf(
    Array.from({ length: 12 }, (_, i) => ({ load_w: 100 * n + i })),
    `2024-01-0${n}T00:00:00Z`,
    3600,
  );
const opened = (content: Uint8Array | string) => () => bytesOf(content, 1 << 20);

async function refusal(name: string, content: Uint8Array | string): Promise<string> {
  try {
    const { surveys } = await surveyFile(name, opened(content), PLAIN_HOME);
    for (const { part, mapping } of surveys) await readPart(part, mapping, PLAIN_HOME);
  } catch (error) {
    if (error instanceof InputError) return error.message;
    throw error;
  }
  throw new Error('It was read.');
}

/** Every member and what became of it. */
async function fates(name: string, content: Uint8Array): Promise<string[]> {
  const { parts, leftOut } = await unpack(name, opened(content));
  return [...parts.map((part) => `${part.name}: read`), ...leftOut.map((one) => `${one.name}: ${one.why}`)];
}

/** A zip archive of stored members, several of which may bear one name; `crc` may lie. Source: APPNOTE 4.3, from memory. */
function rawZip(
  files: readonly { name: string; data: Uint8Array; crc: number; size?: number }[],
): Uint8Array {
  const parts: Buffer[] = [];
  const central: Buffer[] = [];
  let offset = 0;
  for (const { name, data, crc, size = data.length } of files) {
    const packed = deflateRawSync(data);
    const fields = (head: Buffer, at: number) => {
      head.writeUInt16LE(20, at);
      head.writeUInt16LE(8, at + 4);
      head.writeUInt32LE(crc, at + 10);
      head.writeUInt32LE(packed.length, at + 14);
      head.writeUInt32LE(size, at + 18);
      head.writeUInt16LE(name.length, at + 22);
    };
    const local = Buffer.alloc(30);
    local.writeUInt32LE(0x04034b50, 0);
    fields(local, 4);
    const entry = Buffer.alloc(46);
    entry.writeUInt32LE(0x02014b50, 0);
    fields(entry, 6);
    entry.writeUInt32LE(offset, 42);
    parts.push(local, Buffer.from(name), packed);
    central.push(entry, Buffer.from(name));
    offset += 30 + name.length + packed.length;
  }
  const size = central.reduce((sum, { length }) => sum + length, 0);
  const end = Buffer.alloc(22);
  end.writeUInt32LE(0x06054b50, 0);
  end.writeUInt16LE(files.length, 8);
  end.writeUInt16LE(files.length, 10);
  end.writeUInt32LE(size, 12);
  end.writeUInt32LE(offset, 16);
  return new Uint8Array(Buffer.concat([...parts, ...central, end]));
}

/** CRC-32 as zip has it. Source: ISO 3309, by the bit. */
function crcOf(data: Uint8Array): number {
  let crc = -1;
  for (const byte of data) {
    crc ^= byte;
    for (let bit = 0; bit < 8; bit++) crc = (crc >>> 1) ^ (crc & 1 ? 0xedb88320 : 0);
  }
  return (crc ^ -1) >>> 0;
}
const member = (name: string, text: string) => ({ name, data: strToU8(text), crc: crcOf(strToU8(text)) });

describe('every member of an archive is told with its fate', () => {
  test('logs in archives within archives, packed singly, and a photo beside them', async () => {
    const inner = zipSync({ 'b.csv': strToU8(day(2)), 'photo.jpg': Uint8Array.of(255, 216, 0, 1) });
    const zip = zipSync({
      'a.csv': strToU8(day(1)),
      'deep/inner.zip': inner,
      'c.csv.gz': gzipSync(strToU8(day(3))),
      '__MACOSX/._a.csv': strToU8('x'),
      'readme.md': strToU8('no log\n'),
    });
    const found = await readFile('logs.zip', opened(zip), PLAIN_HOME);
    expect(found.map(({ log }) => log.name)).toEqual([
      'logs.zip › a.csv',
      'logs.zip › c.csv.gz',
      'logs.zip › deep/inner.zip › b.csv',
    ]);
    const told = found[0]!.log.findings.map(({ severity, message }) => `${severity}: ${message}`).join('\n');
    expect(told).toMatch(
      /note: logs\.zip › deep\/inner\.zip › photo\.jpg is not read: The file holds binary data/,
    );
    expect(told).toMatch(/note: logs\.zip › __MACOSX\/\._a\.csv is not read: A file of the system/);
    expect(told).toMatch(/note: logs\.zip › readme\.md is not read: There is a header row but no row/);
  });

  test('two of one name are both read, two of one content count once', async () => {
    const zip = rawZip([member('day.csv', day(1)), member('day.csv', day(2)), member('copy.csv', day(1))]);
    expect(await fates('logs.zip', zip)).toEqual([
      'logs.zip › copy.csv: read',
      'logs.zip › day.csv (2): read',
      'logs.zip › day.csv: The same as logs.zip › copy.csv; it counts once.',
    ]);
    const logs = await readFile('logs.zip', opened(zip), PLAIN_HOME);
    expect(logs.map(({ log }) => new Date(log.startMs).getUTCDate())).toEqual([1, 2]);
  });

  test('one whose checksum or size is another is refused, the others are read', async () => {
    const good = member('a.csv', day(1));
    const bad = { ...member('b.csv', day(2)), crc: 1234 };
    const short = { ...member('c.csv', day(3)), size: 40 };
    const long = { ...member('d.csv', day(4)), size: 4000 };
    const found = await fates('logs.zip', rawZip([good, bad, short, long]));
    expect(found[0]).toBe('logs.zip › a.csv: read');
    for (const [i, name] of ['b', 'c', 'd'].entries())
      expect(found[i + 1]).toMatch(
        new RegExp(`${name}\\.csv: It is damaged in the archive: its size or checksum`),
      );
    const [log] = await readFile('logs.zip', opened(rawZip([good, bad])), PLAIN_HOME);
    expect(log!.log.findings.map(({ code, severity }) => [code, severity])).toEqual([
      ['left-out', 'warning'],
    ]);
    expect(await refusal('logs.zip', rawZip([bad]))).toMatch(/b\.csv: This is no log\. It is damaged/);
  });
});

describe('what is made to fill a machine is refused', () => {
  longTest(
    'a zip bomb, a gzip bomb, and bombs nested so that each alone seems harmless',
    async () => {
      const zeros = new Uint8Array(60e6).fill(48);
      expect(await refusal('bomb.zip', zipSync({ 'a.csv': zeros }))).toMatch(
        /would unpack to more than 60 MB/,
      );
      const blank = new Uint8Array(60e6).fill(10);
      blank.set(strToU8(`time,load_w\n${START},1\n2024-01-01T00:05:00Z,2\n`));
      expect(await refusal('bomb.csv.gz', gzipSync(blank))).toMatch(/unpacks to hundreds of times its size/);
      const each = zipSync({ 'a.csv': new Uint8Array(45e6).fill(48) });
      const many = Object.fromEntries(
        Array.from({ length: 30 }, (_, i) => [`${i}.zip`, Uint8Array.of(...each, i)]),
      );
      const found = await fates('nested.zip', zipSync(many, { level: 0 }));
      expect(found).toHaveLength(30);
      expect(found.filter((fate) => /would unpack to more than/.test(fate)).length).toBeGreaterThan(5);
    },
    300_000,
  );

  test('archives nested without end', async () => {
    let zip = zipSync({ 'a.csv': strToU8(day(1)) });
    for (let i = 0; i < 6; i++) zip = zipSync({ 'inner.zip': zip });
    expect(await refusal('deep.zip', zip)).toMatch(/Archives are nested more than 4 deep/);
  });

  test('a line of 100 MB', async () => {
    expect(await refusal('line.csv', new Uint8Array(100e6).fill(97))).toMatch(
      /no line end within the first million/,
    );
  });

  test.each([
    ['of any log', 'Zeit', 'c'],
    ['of a canonical log', 'time', 'load_w,c'],
  ])('ten thousand columns %s', async (_name, time, first) => {
    const header = [time, ...Array.from({ length: 10_000 }, (_, i) => `${first}${i}`)].join(',');
    const row = (minute: number) =>
      [`2024-01-01T00:0${minute}:00Z`, ...new Array<number>(header.split(',').length - 1).fill(1)].join(',');
    expect(await refusal('wide.csv', `${header}\n${row(0)}\n${row(5)}\n`)).toMatch(/columns; at most 500/);
  });

  test('JSON with a key of its own in each row, and JSON nested without end', async () => {
    const rows = Array.from({ length: 20_000 }, (_, i) => ({ time: START, [`key${i}`]: i }));
    expect(await refusal('keys.json', JSON.stringify(rows))).toMatch(/501 columns; at most 500/);
    expect(await refusal('deep.json', `${'['.repeat(200_000)}${']'.repeat(200_000)}`)).toMatch(
      /deep\.json: The JSON is nested more than 60 levels deep/,
    );
  });

  test('cells of hundreds of thousands of spaces, without going over them again and again', async () => {
    const begin = performance.now();
    const spaces = `${' '.repeat(300_000)}x`;
    const { surveys } = await surveyFile(
      'a.csv',
      opened(`Time ${spaces},Load W\n2024-01-01 00:00${spaces},5\n${day(1).split('\n').slice(1).join('\n')}`),
      PLAIN_HOME,
    ).catch(() => ({ surveys: [] }));
    for (const { part, mapping } of surveys) await readPart(part, mapping, PLAIN_HOME);
    // What goes over them once for each of them takes a minute.
    expect(performance.now() - begin).toBeLessThan(15_000);
  });

  test('an archive without a log, and one that is damaged', async () => {
    expect(await refusal('a.zip', zipSync({ 'photo.jpg': Uint8Array.of(0, 1, 2) }))).toMatch(
      /a\.zip › photo\.jpg: This is no log\. The file holds binary data/,
    );
    expect(await refusal('b.zip', zipSync({ 'a.csv': strToU8('time,load_w\n') }).slice(0, 60))).toMatch(
      /damaged or cut short/,
    );
    expect(await refusal('c.zip', zipSync({}))).toMatch(/empty|no row|holds binary/);
  });
});
