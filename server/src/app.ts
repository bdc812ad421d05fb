import { existsSync } from 'node:fs';
import { join } from 'node:path';
import compression from 'compression';
import express, { type ErrorRequestHandler, type Express, type RequestHandler } from 'express';
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
  app.use(onlyThisMachine);
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
  app.use((_request, response, next) => {
    response.set('Permissions-Policy', POLICY);
    next();
  });
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
  app.use(inWords);
  return app;
}

/** Nothing of the machine beside its storage is asked for. */
const POLICY = ['camera', 'geolocation', 'microphone', 'payment', 'usb', 'serial', 'hid', 'bluetooth']
  .map((feature) => `${feature}=()`)
  .join(', ');

/** The names under which this machine calls itself; `localhost` leads to the one address to which the data belong. */
const onlyThisMachine: RequestHandler = (request, response, next) => {
  const host = request.headers.host ?? '';
  const [, name = '', port = ''] = /^(.*?)(:\d+)?$/.exec(host) ?? [];
  if (name === '127.0.0.1') next();
  else if (name === 'localhost' || name === '[::1]')
    response.redirect(308, `http://127.0.0.1${port}${request.originalUrl}`);
  else
    response
      .status(421)
      .type('text')
      .send('Long Tally answers requests for 127.0.0.1 only. Open it at the address that it printed.\n');
};

/** What went wrong, without a path or a stack of this machine. */
const inWords: ErrorRequestHandler = (error: { status?: unknown }, _request, response, next) => {
  if (response.headersSent) {
    next(error);
    return;
  }
  const status =
    typeof error.status === 'number' && error.status >= 400 && error.status < 500 ? error.status : 500;
  response
    .status(status)
    .type('text')
    .send(status === 404 ? 'There is no such file here.\n' : 'This request cannot be answered.\n');
};
