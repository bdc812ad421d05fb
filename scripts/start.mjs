import { build, ensureDemoHomes, ensurePackages, run } from './setup.mjs';

const demo = process.argv.includes('--demo');
ensurePackages();
console.log('Building the application …');
build();
if (demo) ensureDemoHomes();
run(process.execPath, ['--import', 'tsx', 'server/src/main.ts', ...(demo ? ['--demo'] : [])]);
