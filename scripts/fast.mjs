import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { ensurePackages, root } from './setup.mjs';

// Types, lint and unit tests of what differs from the last commit.
const git = (...args) =>
  execFileSync('git', args, { cwd: root, encoding: 'utf8' }).split('\n').filter(Boolean);
ensurePackages();
const changed = [
  ...git('diff', '--name-only', 'HEAD'),
  ...git('ls-files', '--others', '--exclude-standard'),
].filter((file) => /\.(tsx?|m?js)$/.test(file) && existsSync(`${root}${file}`));
const node = process.execPath;
const steps = [
  [node, ['node_modules/typescript7/bin/tsc', '-b']],
  ...(changed.length > 0
    ? [
        ['npx', ['eslint', ...changed]],
        ['npx', ['prettier', '--check', '--log-level', 'warn', ...changed]],
        [
          node,
          [
            '--experimental-vm-modules',
            '--no-warnings',
            'node_modules/jest/bin/jest.js',
            '--findRelatedTests',
            '--passWithNoTests',
            ...changed,
          ],
        ],
      ]
    : []),
];
const failed = steps.filter(
  ([program, args]) => spawnSync(program, args, { cwd: root, stdio: 'inherit' }).status !== 0,
);
process.exit(failed.length === 0 ? 0 : 1);
