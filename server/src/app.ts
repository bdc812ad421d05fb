import { existsSync } from 'node:fs';
import { join } from 'node:path';
import compression from 'compression';
import express, { type Express } from 'express';
import helmet from 'helmet';

/** What the server hands out. */
export interface Served {
  /** The built application. */
  readonly dist: string;
  /** The demo homes, or null when it starts without them. */
  readonly demoHomes: string | null;
}

/**
 * The server of the built application: static files with security headers, nothing else. No data ever comes to it.
 * @throws Error when the application is not built
 */
export function createApp({ dist, demoHomes }: Served): Express {
  const page = join(dist, 'index.html');
  if (!existsSync(page))
    throw new Error(`The application is not built: ${page} is missing. Run "npm run build".`);
  const app = express();
  app.disable('x-powered-by');
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'"],
          styleSrc: ["'self'"],
          imgSrc: ["'self'", 'data:'],
          connectSrc: ["'self'"],
          workerSrc: ["'self'"],
          objectSrc: ["'none'"],
          baseUri: ["'none'"],
          formAction: ["'self'"],
          frameAncestors: ["'none'"],
        },
      },
      // Served over plain http on this machine only: a promise of https would lock the browser out.
      strictTransportSecurity: false,
      referrerPolicy: { policy: 'no-referrer' },
      xFrameOptions: { action: 'deny' },
    }),
  );
  app.use(compression());
  app.use(
    '/assets',
    express.static(join(dist, 'assets'), { immutable: true, maxAge: '1y', index: false, fallthrough: false }),
  );
  if (demoHomes) app.use('/demo-homes', express.static(demoHomes, { maxAge: 0, fallthrough: false }));
  else
    app.get('/demo-homes/index.json', (_request, response) => {
      response.json({ homes: [] });
    });
  app.use(express.static(dist, { index: false, maxAge: 0 }));
  app.get('/{*path}', (_request, response) => {
    response.set('Cache-Control', 'no-cache').sendFile(page);
  });
  return app;
}
