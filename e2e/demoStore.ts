import { chromium, type FullConfig, type Page } from '@playwright/test';
import { writeFileSync } from 'node:fs';
import { STORE_FILE, STORE_PATH } from './storeFile.js';

/** Nothing of the application runs at this address, so its store can be filled from it. */
const QUIET = '/version.json';

/** Imports the demo home once, through the interface, and keeps the store for all tests that begin with it. */
export default async function importDemo({ projects }: FullConfig): Promise<void> {
  const { baseURL, launchOptions, timezoneId, locale } = projects[0]!.use;
  const browser = await chromium.launch(launchOptions);
  const page = await browser.newPage({
    baseURL: baseURL!,
    timezoneId: timezoneId!,
    locale: locale!,
  });
  await page.goto('/');
  await page.getByRole('button', { name: 'Open Kauri Bend' }).click();
  await page.waitForURL(/\/days/, { timeout: 180_000 });
  await page.getByRole('grid').waitFor();
  await page.goto(QUIET);
  const base64 = await page.evaluate(dump);
  writeFileSync(STORE_FILE, Buffer.from(base64, 'base64'));
  await browser.close();
}

/** Fills the store of a page's browser with the demo home. */
export async function fillStore(page: Page): Promise<void> {
  await page.goto(QUIET);
  await page.evaluate(fill, STORE_PATH);
}

/** All of a store, its numbers and files behind a head that says where they lie, in base64. */
async function dump(): Promise<string> {
  const parts: Blob[] = [];
  let offset = 0;
  const kept = (part: Blob) => {
    parts.push(part);
    offset += part.size;
    return { at: offset - part.size, bytes: part.size };
  };
  const packed = (value: unknown): unknown => {
    if (value instanceof Float64Array) return { $floats: kept(new Blob([Float64Array.from(value)])) };
    if (value instanceof Blob)
      return { $file: { ...kept(value), type: value.type, name: value instanceof File ? value.name : '' } };
    if (Array.isArray(value)) return value.map(packed);
    if (value && typeof value === 'object')
      return Object.fromEntries(Object.entries(value).map(([key, one]) => [key, packed(one)]));
    return value;
  };
  const database = await new Promise<IDBDatabase>((resolve, reject) => {
    const open = indexedDB.open('long-tally');
    open.onsuccess = () => resolve(open.result);
    open.onerror = () => reject(new Error('The store cannot be opened.'));
  });
  const stores = [];
  for (const name of database.objectStoreNames) {
    const store = database.transaction(name).objectStore(name);
    const rows = await new Promise<unknown[]>((resolve) => {
      const all = store.getAll();
      all.onsuccess = () => resolve(all.result as unknown[]);
    });
    stores.push({
      name,
      keyPath: store.keyPath,
      autoIncrement: store.autoIncrement,
      indices: [...store.indexNames].map((index) => ({ name: index, keyPath: store.index(index).keyPath })),
      rows: rows.map(packed),
    });
  }
  const head = new TextEncoder().encode(JSON.stringify({ version: database.version, stores }));
  const whole = new Uint8Array(await new Blob([Uint32Array.of(head.length), head, ...parts]).arrayBuffer());
  let text = '';
  for (let i = 0; i < whole.length; i += 0x8000)
    text += String.fromCharCode(...whole.subarray(i, i + 0x8000));
  return btoa(text);
}

/** Makes a store of what {@link dump} kept. */
async function fill(asked: string): Promise<void> {
  const buffer = await (await fetch(asked)).arrayBuffer();
  const [length] = new Uint32Array(buffer, 0, 1);
  const begin = 4 + length!;
  const { version, stores } = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, length))) as {
    version: number;
    stores: {
      name: string;
      keyPath: string | string[];
      autoIncrement: boolean;
      indices: { name: string; keyPath: string | string[] }[];
      rows: unknown[];
    }[];
  };
  const bytes = ({ at, bytes: size }: { at: number; bytes: number }) =>
    buffer.slice(begin + at, begin + at + size);
  const unpacked = (value: unknown): unknown => {
    if (Array.isArray(value)) return value.map(unpacked);
    if (!value || typeof value !== 'object') return value;
    if ('$floats' in value) return new Float64Array(bytes(value.$floats as { at: number; bytes: number }));
    if ('$file' in value) {
      const { name, type, ...where } = value.$file as {
        at: number;
        bytes: number;
        type: string;
        name: string;
      };
      return name === '' ? new Blob([bytes(where)], { type }) : new File([bytes(where)], name, { type });
    }
    return Object.fromEntries(Object.entries(value).map(([key, one]) => [key, unpacked(one)]));
  };
  await new Promise<void>((resolve, reject) => {
    const open = indexedDB.open('long-tally', version);
    open.onerror = () => reject(new Error('The store cannot be made.'));
    open.onupgradeneeded = () => {
      for (const { name, keyPath, autoIncrement, indices, rows } of stores) {
        const store = open.result.createObjectStore(name, { keyPath, autoIncrement });
        for (const index of indices) store.createIndex(index.name, index.keyPath);
        for (const row of rows) store.add(unpacked(row));
      }
    };
    open.onsuccess = () => {
      open.result.close();
      resolve();
    };
  });
}
