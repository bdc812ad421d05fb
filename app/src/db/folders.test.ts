/** @jest-environment <rootDir>/jest.dom.mjs */
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { db } from './database.js';
import { canKeepFolder, chooseFolder, leaveFolder, mayWrite, writeInto } from './folders.js';

type Picker = { showDirectoryPicker?: () => Promise<unknown> };
const folder = (methods: object = {}) => methods as FileSystemDirectoryHandle;
const permits = (query: PermissionState, request?: PermissionState) => {
  let asked = 0;
  return {
    asked: () => asked,
    handle: folder({
      queryPermission: () => Promise.resolve(query),
      ...(request && {
        requestPermission: () => {
          asked++;
          return Promise.resolve(request);
        },
      }),
    }),
  };
};

describe('a folder for the book of a home', () => {
  beforeEach(() => db.folders.clear());
  afterEach(() => void Reflect.deleteProperty(window, 'showDirectoryPicker'));

  test('is offered only where the browser lets a page write into one', () => {
    expect(canKeepFolder()).toBe(false);
    (window as Picker).showDirectoryPicker = () => Promise.resolve({});
    expect(canKeepFolder()).toBe(true);
  });

  test('is kept with the home that it was chosen for, until it is left', async () => {
    (window as Picker).showDirectoryPicker = () => Promise.resolve({ name: 'books' });
    await chooseFolder('mill');
    await chooseFolder('barn');
    await leaveFolder('barn');
    expect(await db.folders.toArray()).toEqual([{ homeId: 'mill', handle: { name: 'books' } }]);
  });

  test('that is not chosen in the end leaves all as it was', async () => {
    (window as Picker).showDirectoryPicker = () => Promise.reject(new DOMException('left', 'AbortError'));
    await expect(chooseFolder('mill')).rejects.toThrow('left');
    expect(await db.folders.count()).toBe(0);
  });

  test('is written into where its reader lets it be; nobody is asked out of the blue', async () => {
    expect(await mayWrite(folder(), false)).toBe(true);
    expect(await mayWrite(permits('granted').handle, false)).toBe(true);
    const open = permits('prompt', 'granted');
    expect([await mayWrite(open.handle, false), open.asked()]).toEqual([false, 0]);
    expect([await mayWrite(open.handle, true), open.asked()]).toEqual([true, 1]);
    const closed = permits('prompt', 'denied');
    expect(await mayWrite(closed.handle, true)).toBe(false);
    expect(await mayWrite(permits('denied').handle, true)).toBe(false);
  });

  test('has a file whole or not at all: what fails in the middle is never closed', async () => {
    const done: string[] = [];
    const handle = (fails: boolean) =>
      folder({
        getFileHandle: (name: string, options: object) => {
          done.push(`${name} ${JSON.stringify(options)}`);
          return Promise.resolve({
            createWritable: () =>
              Promise.resolve({
                write: (content: Blob) =>
                  fails
                    ? Promise.reject(new Error('full'))
                    : Promise.resolve(done.push(`${content.size} bytes`)),
                close: () => Promise.resolve(done.push('closed')),
              }),
          });
        },
      });
    await writeInto(handle(false), 'mill.zip', new Blob(['book']));
    expect(done).toEqual(['mill.zip {"create":true}', '4 bytes', 'closed']);
    done.length = 0;
    await expect(writeInto(handle(true), 'mill.zip', new Blob(['book']))).rejects.toThrow('full');
    expect(done).not.toContain('closed');
  });
});
