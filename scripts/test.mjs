import { spawn } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensureChromium, ensureDemoHomes, ensurePackages, root } from './setup.mjs';

const isLong = process.argv.includes('--long');
const results = mkdtempSync(join(tmpdir(), 'long-tally-'));
const env = {
  ...process.env,
  PLAYWRIGHT_JSON_OUTPUT_NAME: join(results, 'browser.json'),
  ...(isLong && { LONG: '1' }),
};
let passed = 0;
let failed = 0;
/** Names of what failed, told again at the end, where a long output still shows them. */
const failures = [];

/** Runs one step and counts it as one test when it does not count its own. What it says is shown when it has ended. */
async function step(name, program, args, count) {
  let said = '';
  const child = spawn(program, args, { cwd: root, env });
  for (const stream of [child.stdout, child.stderr])
    stream.setEncoding('utf8').on('data', (text) => (said += text));
  const begun = Date.now();
  const status = await new Promise((resolve) => {
    child.on('error', () => resolve(1));
    child.on('close', resolve);
  });
  console.log(`\n== ${name}, ${Math.round((Date.now() - begun) / 1000)} s\n${said}`);
  const [good, bad, names = []] = count ? count() : status === 0 ? [1, 0] : [0, 1];
  passed += good;
  failed += bad || (status === 0 ? 0 : 1);
  if (bad || status !== 0) failures.push(name, ...names.map((text) => `  ${text}`));
}

function unitCount() {
  const { numPassedTests, numFailedTests, numRuntimeErrorTestSuites, testResults } = JSON.parse(
    readFileSync(join(results, 'unit.json'), 'utf8'),
  );
  const failing = testResults.filter(({ status }) => status === 'failed');
  return [
    numPassedTests,
    numFailedTests + numRuntimeErrorTestSuites,
    failing.map(({ message }) => message.slice(0, 3000)),
  ];
}

function browserCount() {
  const { stats } = JSON.parse(readFileSync(join(results, 'browser.json'), 'utf8'));
  return [stats.expected, stats.unexpected + stats.flaky];
}

/** A missing result file is a failure, not a crash. */
const safely = (count) => () => {
  try {
    return count();
  } catch {
    return [0, 1];
  }
};

/** What is said of the files as they stand; of a file that is unchanged it is kept from last time. */
async function lint() {
  const cache = (name) => ['--cache', '--cache-strategy=content', `--cache-location=.tsbuild/${name}`];
  await step('lint', 'npx', ['eslint', ...cache('eslint'), '.']);
  await step('format', 'npx', ['prettier', '--check', ...cache('prettier'), '--log-level', 'warn', '.']);
  await step('types', process.execPath, ['node_modules/typescript7/bin/tsc', '-b']);
}

async function unitTests() {
  const jest = [
    '--experimental-vm-modules',
    '--no-warnings',
    'node_modules/jest/bin/jest.js',
    '--json',
    `--outputFile=${join(results, 'unit.json')}`,
  ];
  await step('unit tests', process.execPath, jest, safely(unitCount));
  const count = isLong ? '5000' : '100';
  await step('spoilt files', process.execPath, ['--import', 'tsx', 'scripts/fuzz.ts', '1', count]);
}

async function browserTests() {
  const browser = ['playwright', 'test', '-c', 'e2e/playwright.config.ts'];
  await step('browser tests', 'npx', browser, safely(browserCount));
}

/** The long checks time what the browser does, so nothing else runs beside it then; the others share the processors. */
async function tests() {
  await step('build', 'npm', ['run', '-s', 'build']);
  if (!isLong) return Promise.all([unitTests(), browserTests()]);
  await unitTests();
  await browserTests();
}

ensurePackages();
ensureChromium();
ensureDemoHomes();
console.log('Lint and types are checked while the tests run; each step is told when it has ended.');
await Promise.all([lint(), tests()]);
if (failures.length > 0) console.log(`\n== failed\n${failures.join('\n')}`);
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
