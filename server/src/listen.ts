import type { Server } from 'node:net';
import type { Express } from 'express';

/** The loopback: nothing of this server is seen outside this machine. */
export const HOST = '127.0.0.1';
const PORTS_TRIED = 20;

/**
 * Listens on a port of the loopback, or on the next free one when it is taken.
 * @param say told, in words, of each port that is taken
 * @throws the system's error when no port of twenty is free, or for any other reason
 */
export async function listenNear(app: Express, first: number, say: (text: string) => void): Promise<Server> {
  for (let port = first; ; port++) {
    try {
      return await listen(app, port);
    } catch (error) {
      const taken = (error as NodeJS.ErrnoException).code === 'EADDRINUSE';
      if (!taken || port >= first + PORTS_TRIED - 1) throw error;
      say(`Port ${port} is taken; trying ${port + 1}.`);
    }
  }
}

function listen(app: Express, port: number): Promise<Server> {
  return new Promise((resolve, reject) => {
    const server = app.listen(port, HOST, (error?: Error) => (error ? reject(error) : resolve(server)));
  });
}
