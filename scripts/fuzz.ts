import { spawn } from 'node:child_process';
import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { tryDocument } from '../core/src/testing/documents.js';
import { tryLog, tryMany, type Tally } from '../core/src/testing/fuzzing.js';
import { tryBook } from '../core/src/testing/spoiltBooks.js';

/**
 * Spoils logs, the files that describe a home, and books, and prints how they end: `npm run test:fuzz -- SEED COUNT`. Half of the
 * count are logs, a tenth files that describe a home, the others books. Many are shared out over the processors.
 */
const [seed = 1, count = 2000] = process.argv.slice(2, 4).map(Number);
const MOST_MB = 1000;
const isShare = process.argv[4] === 'share';
const shares = isShare || count < 1000 ? 1 : availableParallelism();

if (shares > 1) {
  const each = Math.ceil(count / shares);
  const self = fileURLToPath(import.meta.url);
  const codes = await Promise.all(
    Array.from(
      { length: shares },
      (_, i) =>
        new Promise<number>((resolve) => {
          const own = Math.min(each, count - i * each);
          const args = ['--import', 'tsx', self, String(seed + i * each), String(own), 'share'];
          spawn(process.execPath, args, { stdio: 'inherit' }).on('exit', (code) => resolve(code ?? 1));
        }),
    ),
  );
  process.exitCode = Math.max(...codes);
} else {
  const documents = Math.floor(count / 10);
  const books = Math.floor((4 * count) / 10);
  const tallies: readonly (readonly [string, Tally])[] = [
    ['logs', await tryMany(seed, count - documents - books, tryLog)],
    ['documents', await tryMany(seed, documents, tryDocument)],
    ['books', await tryMany(seed, books, tryBook)],
  ];
  const mb = Math.round(process.resourceUsage().maxRSS / 1024);
  for (const [what, { counts, bad, slowestMs }] of tallies) {
    for (const trial of bad)
      console.log(
        `${trial.outcome}: seed ${trial.seed}, ${trial.mutation} of "${trial.shape}": ${trial.why.slice(0, 400)}`,
      );
    const total = Object.values(counts).reduce((sum, one) => sum + one, 0);
    const silent = ((100 * counts.silent) / Math.max(1, total)).toFixed(2);
    console.log(
      `${what} from seed ${seed}: ${JSON.stringify(counts)}, slowest ${Math.round(slowestMs)} ms; silent: ${counts.silent} of ${total}, ${silent} %`,
    );
    if (bad.length > 0) process.exitCode = 1;
  }
  console.log(`peak memory ${mb} MB of ${MOST_MB}`);
  if (mb > MOST_MB) process.exitCode = 1;
}
