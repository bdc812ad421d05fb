/** @jest-environment <rootDir>/jest.dom.mjs */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import type { System } from '@long-tally/core';
import { download, save, stemOf } from './download.js';

const saved: { readonly name: string; readonly content: Blob; readonly held: string[] }[] = [];

beforeEach(() => {
  saved.length = 0;
  const held = new Map<string, Blob>();
  jest.spyOn(HTMLAnchorElement.prototype, 'click').mockImplementation(function (this: HTMLAnchorElement) {
    saved.push({ name: this.download, content: held.get(this.href)!, held: [...held.keys()] });
  });
  Object.assign(URL, {
    createObjectURL: (content: Blob) => {
      const url = `blob:${held.size}`;
      held.set(url, content);
      return url;
    },
    revokeObjectURL: (url: string) => held.delete(url),
  });
});
afterEach(() => void jest.restoreAllMocks());

const textOf = (content: Blob) =>
  new Promise((resolve) => {
    const reader = new FileReader();
    reader.onload = () => resolve(reader.result);
    reader.readAsText(content);
  });

describe('a file for the reader', () => {
  test('bears its name and is let go of when it is handed over', async () => {
    save('mill.csv', new Blob(['a,b']));
    expect(saved.map(({ name }) => name)).toEqual(['mill.csv']);
    expect(await textOf(saved[0]!.content)).toBe('a,b');
    save('mill.csv', new Blob(['c']));
    expect(saved[1]!.held).toHaveLength(1);
  });

  test('of an object is JSON that a person can read', async () => {
    download('mill.json', { name: 'Mill', modules: 2 });
    expect(saved[0]!.content.type).toBe('application/json');
    expect(await textOf(saved[0]!.content)).toBe('{\n  "name": "Mill",\n  "modules": 2\n}\n');
  });

  test.each([
    ['Kauri Bend', 'kauri-bend'],
    ['Koča pod Skalo', 'koca-pod-skalo'],
    ['  Zürich / 3. Stock ', 'zurich-3-stock'],
    ['家', 'home'],
    ['../../etc/passwd', 'etc-passwd'],
  ])('of the home “%s” begins with %s', (name, stem) => {
    expect(stemOf({ system: { name } as System })).toBe(stem);
  });
});
