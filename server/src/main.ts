import type { AddressInfo } from 'node:net';
import { fileURLToPath } from 'node:url';
import { createApp } from './app.js';
import { HOST, listenAt } from './listen.js';

const FIRST_PORT = 4170;

const here = (path: string) => fileURLToPath(new URL(path, import.meta.url));
const wanted = process.env['PORT'] === undefined ? FIRST_PORT : Number(process.env['PORT']);
if (!Number.isInteger(wanted) || wanted < 0 || wanted > 65_535) {
  console.error(
    `PORT is "${process.env['PORT'] ?? ''}", which is no port number. Choose one from 1 to 65535.`,
  );
  process.exit(1);
}

try {
  const demo = process.argv.includes('--demo');
  const app = createApp({ dist: here('../../app/dist'), demoHomes: demo ? here('../../demo/homes') : null });
  const listening = await listenAt(app, wanted);
  if (listening.state === 'started') {
    const { port } = listening.server.address() as AddressInfo;
    console.log(`Long Tally is at http://${HOST}:${port}/ ${demo ? '(with the demo homes)' : ''}`.trimEnd());
    console.log('It listens on this machine only. Stop it with Ctrl+C.');
  } else if (listening.state === 'running') {
    console.log(`Long Tally runs already: open http://${HOST}:${wanted}/`);
    console.log(
      'To start it anew, for example with the demo homes, stop the other one first (Ctrl+C where it runs).',
    );
  } else {
    console.error(
      `Port ${wanted} is taken by another program. Stop that, or start with a port of your own, as in "PORT=${wanted + 1} npm start". What you have stored belongs to its address: keep to one port.`,
    );
    process.exit(1);
  }
} catch (error) {
  console.error(`The server could not start: ${(error as Error).message}`);
  process.exit(1);
}
