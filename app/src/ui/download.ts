/** Hands an object to the user as a JSON file. */
export function download(name: string, content: object): void {
  save(name, new Blob([`${JSON.stringify(content, null, 2)}\n`], { type: 'application/json' }));
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
