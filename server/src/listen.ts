import type { Server } from 'node:net';
import type { Express } from 'express';

/** The loopback: nothing of this server is seen outside this machine. */
export const HOST = '127.0.0.1';

/** Where the server is, or why it is not there. */
export type Listening =
  | { readonly state: 'started'; readonly server: Server }
  /** Long Tally runs on that port already. */
  | { readonly state: 'running' }
  /** Another program has the port. */
  | { readonly state: 'taken' };

/**
 * Listens on a port of the loopback. Data in the browser belong to the address, so another port is never taken instead:
 * it would show an empty start page.
 * @throws the system's error for any reason but that the port is taken
 */
export async function listenAt(app: Express, port: number): Promise<Listening> {
  try {
    return { state: 'started', server: await listen(app, port) };
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EADDRINUSE') throw error;
    return { state: (await isLongTally(port)) ? 'running' : 'taken' };
  }
}

/** True when what answers on a port says it is this application. */
async function isLongTally(port: number): Promise<boolean> {
  try {
    const response = await fetch(`http://${HOST}:${port}/version.json`, {
      signal: AbortSignal.timeout(3000),
    });
    return ((await response.json()) as { app?: unknown }).app === 'long-tally';
  } catch {
    return false;
  }
}

function listen(app: Express, port: number): Promise<Server> {
  return new Promise((resolve, reject) => {
    const server = app.listen(port, HOST, (error?: Error) => (error ? reject(error) : resolve(server)));
  });
}
