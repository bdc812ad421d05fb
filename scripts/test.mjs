import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { build, ensureChromium, ensureDemoHomes, ensurePackages, root } from './setup.mjs';

const isLong = process.argv.includes('--long');
const results = mkdtempSync(join(tmpdir(), 'long-tally-'));
let passed = 0;
let failed = 0;
/** Names of what failed, told again at the end, where a long output still shows them. */
const failures = [];

/** Runs one step and counts it as one test when it does not count its own. */
function step(name, program, args, count) {
  console.log(`\n== ${name}`);
  const env = { ...process.env, PLAYWRIGHT_JSON_OUTPUT_NAME: join(results, 'browser.json') };
  const { status } = spawnSync(program, args, { cwd: root, stdio: 'inherit', env });
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

ensurePackages();
ensureChromium();
step('lint', 'npx', ['eslint', '.']);
step('format', 'npx', ['prettier', '--check', '--log-level', 'warn', '.']);
step('types', process.execPath, ['node_modules/typescript7/bin/tsc', '-b']);
ensureDemoHomes();
const jest = [
  '--experimental-vm-modules',
  '--no-warnings',
  'node_modules/jest/bin/jest.js',
  '--json',
  `--outputFile=${join(results, 'unit.json')}`,
];
step('unit tests', process.execPath, jest, safely(unitCount));
step('spoilt files', process.execPath, ['--import', 'tsx', 'scripts/fuzz.ts', '1', isLong ? '5000' : '600']);
console.log('\n== build');
build();
step('browser tests', 'npx', ['playwright', 'test', '-c', 'e2e/playwright.config.ts'], safely(browserCount));
if (failures.length > 0) console.log(`\n== failed\n${failures.join('\n')}`);
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
