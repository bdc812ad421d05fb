import { tally } from './tally.js';

// Whoever reads the output may have read enough, as `| head` does: that is no fault.
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code !== 'EPIPE') throw error;
  process.exit();
});

process.exitCode = await tally(process.argv.slice(2));
