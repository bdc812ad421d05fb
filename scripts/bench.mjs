import { ensurePackages, run } from './setup.mjs';

ensurePackages();
run(process.execPath, ['--import', 'tsx', 'scripts/bench.ts', ...process.argv.slice(2)]);
