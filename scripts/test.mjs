import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { build, ensureChromium, ensureDemoHomes, ensurePackages, root } from './setup.mjs';

const isLong = process.argv.includes('--long');
const results = mkdtempSync(join(tmpdir(), 'long-tally-'));
let passed = 0;
let failed = 0;

/** Runs one step and counts it as one test when it does not count its own. */
function step(name, program, args, count) {
  console.log(`\n== ${name}`);
  const env = { ...process.env, PLAYWRIGHT_JSON_OUTPUT_NAME: join(results, 'browser.json') };
  const { status } = spawnSync(program, args, { cwd: root, stdio: 'inherit', env });
  const [good, bad] = count ? count() : status === 0 ? [1, 0] : [0, 1];
  passed += good;
  failed += bad || (status === 0 ? 0 : 1);
}

function unitCount() {
  const { numPassedTests, numFailedTests, numRuntimeErrorTestSuites } = JSON.parse(
    readFileSync(join(results, 'unit.json'), 'utf8'),
  );
  return [numPassedTests, numFailedTests + numRuntimeErrorTestSuites];
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
step('spoilt files', process.execPath, [
  '--import',
  'tsx',
  'scripts/fuzz.ts',
  '1',
  isLong ? '20000' : '2000',
]);
console.log('\n== build');
build();
step('browser tests', 'npx', ['playwright', 'test', '-c', 'e2e/playwright.config.ts'], safely(browserCount));
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
