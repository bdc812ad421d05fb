import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import { createServer, type AddressInfo, type Server } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { createApp } from './app.js';
import { HOST, listenNear } from './listen.js';

const dist = mkdtempSync(join(tmpdir(), 'dist-'));
const homes = mkdtempSync(join(tmpdir(), 'homes-'));
mkdirSync(join(dist, 'assets'));
writeFileSync(join(dist, 'index.html'), '<!doctype html><title>Long Tally</title>');
writeFileSync(join(dist, 'assets', 'app-abc.js'), `export const text = '${'x'.repeat(5000)}';`);
writeFileSync(join(homes, 'index.json'), '{"homes":[{"id":"a"}]}');

function listening(demoHomes: string | null): Promise<{ server: Server; url: string }> {
  return new Promise((resolve) => {
    const server = createApp({ dist, demoHomes }).listen(0, '127.0.0.1', () =>
      resolve({ server, url: `http://127.0.0.1:${(server.address() as AddressInfo).port}` }),
    );
  });
}

describe('the server', () => {
  let plain: Awaited<ReturnType<typeof listening>>;
  let demo: Awaited<ReturnType<typeof listening>>;
  beforeAll(async () => {
    plain = await listening(null);
    demo = await listening(homes);
  });
  afterAll(() => {
    plain.server.close();
    demo.server.close();
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

test('a taken port leads to the next free one, and says so', async () => {
  const blocker = createServer();
  const taken = await new Promise<number>((resolve) => {
    blocker.listen(0, HOST, () => resolve((blocker.address() as AddressInfo).port));
  });
  const said: string[] = [];
  const server = await listenNear(createApp({ dist, demoHomes: null }), taken, (text) => said.push(text));
  const { port, address } = server.address() as AddressInfo;
  server.close();
  blocker.close();
  expect(address).toBe('127.0.0.1');
  expect(port).toBeGreaterThan(taken);
  expect(said[0]).toBe(`Port ${taken} is taken; trying ${taken + 1}.`);
  expect(said).toHaveLength(port - taken);
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
