import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import { request } from 'node:http';
import { createServer, type AddressInfo, type Server } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { createApp } from './app.js';
import { HOST, listenAt } from './listen.js';

const dist = mkdtempSync(join(tmpdir(), 'dist-'));
const homes = mkdtempSync(join(tmpdir(), 'homes-'));
mkdirSync(join(dist, 'assets'));
writeFileSync(join(dist, 'version.json'), '{"app":"long-tally","build":"1"}');
writeFileSync(join(dist, 'index.html'), '<!doctype html><title>Long Tally</title>');
writeFileSync(join(dist, 'assets', 'app-abc.js'), `export const text = '${'x'.repeat(5000)}';`);
writeFileSync(join(homes, 'index.json'), '{"homes":[{"id":"a"}]}');

const servers: Server[] = [];
afterAll(() => servers.forEach((server) => server.close()));

function listening(demoHomes: string | null): Promise<{ server: Server; url: string }> {
  return new Promise((resolve) => {
    const server = createApp({ dist, demoHomes }).listen(0, '127.0.0.1', () =>
      resolve({ server, url: `http://127.0.0.1:${(server.address() as AddressInfo).port}` }),
    );
    servers.push(server);
  });
}

describe('the server', () => {
  let plain: Awaited<ReturnType<typeof listening>>;
  let demo: Awaited<ReturnType<typeof listening>>;
  beforeAll(async () => {
    plain = await listening(null);
    demo = await listening(homes);
  });

  test('sends its security headers with every answer', async () => {
    const { headers } = await fetch(`${plain.url}/h/some-home/days`);
    const policy = headers.get('content-security-policy')!;
    expect(policy).toContain("default-src 'self'");
    expect(policy).toContain("frame-ancestors 'none'");
    expect(policy).not.toMatch(/unsafe|https?:/);
    expect(headers.get('x-content-type-options')).toBe('nosniff');
    expect(headers.get('referrer-policy')).toBe('no-referrer');
    expect(headers.get('x-frame-options')).toBe('DENY');
    expect(headers.get('x-powered-by')).toBeNull();
    expect(headers.get('permissions-policy')).toContain('camera=()');
    expect(headers.get('cross-origin-opener-policy')).toBe('same-origin');
  });

  test('gives the page for any view, hashed assets for ever and compressed, and 404 for an asset it has not', async () => {
    const page = await fetch(`${plain.url}/h/x/days`);
    expect([await page.text(), page.headers.get('cache-control')]).toEqual([
      '<!doctype html><title>Long Tally</title>',
      'no-cache',
    ]);
    const asset = await fetch(`${plain.url}/assets/app-abc.js`);
    expect(asset.headers.get('cache-control')).toBe('public, max-age=31536000, immutable');
    expect(asset.headers.get('content-encoding')).toMatch(/gzip|br/);
    expect((await fetch(`${plain.url}/assets/none.js`)).status).toBe(404);
    expect((await fetch(`${plain.url}/assets/..%2f..%2fetc/passwd`)).status).toBeGreaterThanOrEqual(400);
  });

  test('has demo homes only when it was started with them', async () => {
    expect(await (await fetch(`${plain.url}/demo-homes/index.json`)).json()).toEqual({ homes: [] });
    expect(await (await fetch(`${demo.url}/demo-homes/index.json`)).json()).toEqual({ homes: [{ id: 'a' }] });
  });

  test('says so when the application is not built', () => {
    expect(() => createApp({ dist: homes, demoHomes: null })).toThrow(/not built.*npm run build/);
  });
});

describe('a port that is taken', () => {
  test('by Long Tally leads to that; by another program it is said, and no other port is tried', async () => {
    const running = await listening(null);
    const port = (running.server.address() as AddressInfo).port;
    const app = createApp({ dist, demoHomes: null });
    expect(await listenAt(app, port)).toEqual({ state: 'running' });
    const blocker = createServer((socket) => socket.destroy());
    servers.push(blocker);
    const taken = await new Promise<number>((resolve) => {
      blocker.listen(0, HOST, () => resolve((blocker.address() as AddressInfo).port));
    });
    expect(await listenAt(app, taken)).toEqual({ state: 'taken' });
    const free = await listenAt(app, 0);
    expect(free.state).toBe('started');
    if (free.state === 'started') {
      servers.push(free.server);
      expect((free.server.address() as AddressInfo).address).toBe('127.0.0.1');
    }
  });
});

describe('requests', () => {
  /** A request whose Host says something else than its address. */
  const asked = (port: number, host: string, path = '/') =>
    new Promise<{ status: number; location: string | undefined; body: string }>((resolve, reject) => {
      request({ host: '127.0.0.1', port, path, headers: { host } }, (response) => {
        let body = '';
        response.on('data', (text: Buffer) => (body += text.toString()));
        response.on('end', () =>
          resolve({ status: response.statusCode!, location: response.headers.location, body }),
        );
      })
        .on('error', reject)
        .end();
    });

  test('for other names are refused; localhost leads to the address to which the data belong', async () => {
    const { server } = await listening(null);
    const { port } = server.address() as AddressInfo;
    expect((await asked(port, `127.0.0.1:${port}`)).status).toBe(200);
    for (const name of ['localhost', '[::1]'])
      expect(await asked(port, `${name}:${port}`, '/h/a/days?from=2024-01-01')).toMatchObject({
        status: 308,
        location: `http://127.0.0.1:${port}/h/a/days?from=2024-01-01`,
      });
    for (const name of ['rebound.example', '192.168.0.9', '127.0.0.1.example'])
      expect(await asked(port, name)).toMatchObject({
        status: 421,
        body: expect.stringMatching(/127\.0\.0\.1 only/),
      });
  });

  test('that go wrong are answered in words, without a path or a stack', async () => {
    const { server } = await listening(homes);
    const { port } = server.address() as AddressInfo;
    for (const path of [
      '/assets/none.js',
      '/demo-homes/none.csv',
      '/assets/..%2f..%2fetc/passwd',
      '/%E0%A4%A',
      '/assets/%00',
    ]) {
      const { status, body } = await asked(port, '127.0.0.1', path);
      expect([path, status >= 400 && status < 500]).toEqual([path, true]);
      expect(body).not.toMatch(/node_modules|Error|\/tmp|\/work| {4}at /);
      expect(body).toMatch(/no such file|cannot be answered/);
    }
  });
});

test('a port that is none is refused in words', () => {
  const main = fileURLToPath(new URL('./main.ts', import.meta.url));
  const { status, stderr } = spawnSync(process.execPath, ['--import', 'tsx', main], {
    env: { ...process.env, PORT: 'many', NODE_OPTIONS: '' },
    encoding: 'utf8',
  });
  expect(status).toBe(1);
  expect(stderr).toMatch(/PORT is "many", which is no port number\. Choose one from 1 to 65535/);
});
