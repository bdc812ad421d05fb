import type { Home } from '../db/database.js';

/** Hands an object to the user as a JSON file. */
export function download(name: string, content: object): void {
  save(name, new Blob([`${JSON.stringify(content, null, 2)}\n`], { type: 'application/json' }));
}

/** The beginning of the names under which files of a home are saved. */
export function stemOf({ system }: Pick<Home, 'system'>): string {
  const plain = system.name.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase();
  return plain.replace(/[^a-z0-9]+/g, '-').replace(/^-|-$/g, '') || 'home';
}

/** Hands a file to the user. */
export function save(name: string, content: Blob): void {
  const url = URL.createObjectURL(content);
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  URL.revokeObjectURL(url);
}
