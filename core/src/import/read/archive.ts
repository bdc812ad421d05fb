import type { FileEntry } from '@zip.js/zip.js';
import { InputError } from '../../model/problem.js';

/** The reader of zip archives, which is fetched with the first of them: most logs come as text. */
const zipReader = () => import('./zipReader.js');

/** Bytes that may still be unpacked: one for a file and everything nested in it. */
export interface Budget {
  left: number;
}

/** A file in an archive; its bytes are unpacked when they are asked for. */
export interface ArchiveFile {
  readonly name: string;
  /** Of its contents as the archive states it; equal contents have equal ones. */
  readonly crc: number;
  readonly size: number;
  /**
   * @throws InputError when it is damaged, locked, or more than may be unpacked
   */
  readonly bytes: () => Promise<Uint8Array>;
}

/** Logs pack to a tenth or a twentieth; what packs to less than this is made to fill a disk. */
const MOST_RATIO = 300;
const RATIO_MATTERS_FROM = 50e6;
const MOST_FILES = 2000;

/** True of so many bytes from so few that no log would give them. */
export function isBomb(unpacked: number, packed: number): boolean {
  return unpacked > RATIO_MATTERS_FROM && unpacked > MOST_RATIO * packed;
}

/**
 * The files of a zip archive, in its order; several may bear one name.
 * @throws InputError when it is damaged, or states more than may be unpacked
 * @source PKWARE APPNOTE 6.3, from memory
 */
export async function filesOf(where: string, bytes: Uint8Array, budget: Budget): Promise<ArchiveFile[]> {
  const refuse = (found: string, mend: string) => new InputError([{ where, found, mend }]);
  const { Uint8ArrayReader, ZipReader } = await zipReader();
  let files: FileEntry[];
  try {
    const entries = await new ZipReader(new Uint8ArrayReader(bytes)).getEntries();
    files = entries.filter((entry) => !entry.directory);
  } catch {
    throw refuse('The archive is damaged or cut short.', 'Download it again; nothing of it was used.');
  }
  if (files.length > MOST_FILES)
    throw refuse(`The archive holds ${files.length} files.`, `Bring at most ${MOST_FILES} at a time.`);
  const total = files.reduce((sum, { uncompressedSize }) => sum + uncompressedSize, 0);
  if (total > budget.left || isBomb(total, bytes.length)) {
    const found = `The archive would unpack to more than ${Math.floor(total / 1e6)} MB.`;
    throw refuse(found, 'A log does not pack like that; bring its files one by one.');
  }
  return files.map((file) => ({
    name: file.filename,
    crc: file.crc32 ?? 0,
    size: file.uncompressedSize,
    bytes: () => unpacked(`${where} › ${file.filename}`, file, budget),
  }));
}

async function unpacked(where: string, file: FileEntry, budget: Budget): Promise<Uint8Array> {
  const refuse = (found: string, mend: string) => new InputError([{ where, found, mend }]);
  if (file.encrypted) throw refuse('It is locked with a password.', 'Unpack it yourself and bring the file.');
  budget.left -= file.uncompressedSize;
  if (budget.left < 0)
    throw refuse(
      'The files nested in this archive would unpack to more than can be held.',
      'Bring them one by one.',
    );
  const { BoundedWriter } = await zipReader();
  try {
    return await file.getData(new BoundedWriter(file.uncompressedSize), { checkSignature: true });
  } catch {
    throw refuse(
      'It is damaged in the archive: its size or checksum is not what the archive states.',
      'Download the archive again; nothing of this file was used.',
    );
  }
}
