import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

export const root = fileURLToPath(new URL('..', import.meta.url));

/** Debian's Chromium: the one without a window first, which runs the browser tests in two thirds of the time. */
const CHROMIUMS = ['chromium-headless-shell', 'chromium'];
const isInstalled = (name) => existsSync(`/usr/bin/${name}`);

/** Runs a program with its output shown; ends this one when it fails. */
export function run(program, args, options = {}) {
  const { status } = spawnSync(program, args, { cwd: root, stdio: 'inherit', ...options });
  if (status !== 0) process.exit(status ?? 1);
}

/** Installs the npm packages when they are missing or older than the lock file. */
export function ensurePackages() {
  const [major] = process.versions.node.split('.').map(Number);
  if (major < 20) {
    console.error(
      `Node.js 20 or newer is needed; this is ${process.version}. Install it and run this again.`,
    );
    process.exit(1);
  }
  const stamp = `${root}node_modules/.installed-lock`;
  const lock = readFileSync(`${root}package-lock.json`, 'utf8');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  console.log('Installing npm packages …');
  run('npm', ['ci', '--ignore-scripts', '--no-audit', '--no-fund']);
  writeFileSync(stamp, lock);
}

/** Installs Debian's Chromium for the browser tests when it is missing and this user may. */
export function ensureChromium() {
  const [quickest] = CHROMIUMS;
  if (isInstalled(quickest)) return;
  if (process.getuid?.() === 0 && existsSync('/usr/bin/apt-get')) {
    console.log(`Installing Debian's ${quickest} for the browser tests …`);
    const options = {
      stdio: 'ignore',
      timeout: 120_000,
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    };
    try {
      execFileSync('apt-get', ['update', '-qq'], options);
      execFileSync('apt-get', ['install', '-y', '-qq', '--no-install-recommends', quickest], options);
    } catch {
      // Said below, where none is there.
    }
  }
  if (CHROMIUMS.some(isInstalled)) return;
  console.error(
    `The browser tests need Debian's Chromium. Install it: apt-get install --no-install-recommends ${quickest}`,
  );
  process.exit(1);
}

/** Builds the application. */
export function build() {
  run('npm', ['run', '-s', 'build']);
}

/** Writes the demo homes when they are missing or older than their generator. */
export function ensureDemoHomes() {
  const written = `${root}demo/homes/index.json`;
  const sources = execFileSync('find', ['demo/src', 'core/src/statistics/random.ts', '-name', '*.ts'], {
    cwd: root,
    encoding: 'utf8',
  });
  const newest = Math.max(
    ...sources
      .trim()
      .split('\n')
      .map((file) => statSync(`${root}${file}`).mtimeMs),
  );
  if (existsSync(written) && statSync(written).mtimeMs > newest) return;
  console.log('Writing the demo homes …');
  run(process.execPath, ['--import', 'tsx', 'demo/src/main.ts']);
}
