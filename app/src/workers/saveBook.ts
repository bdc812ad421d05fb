import type { SavedBook } from '../protocol.js';
import {
  bookOf,
  LEFT_OUT,
  pathOfFile,
  readingSchema,
  type BookFile,
  type Prepared,
  type Settings,
} from '@long-tally/core';
import { db, type Home } from '../db/database.js';
import { sourcesOf } from '../db/sources.js';
import {
  appliancesRow,
  checkedRows,
  correctionRow,
  fileRow,
  noteRow,
  offersRow,
  layoutRow,
  scenariosRow,
  pictureRow,
  readingRow,
  trialRow,
} from '../db/rows.js';

/** The book of a home as it is stored. */
export async function bookOfHome(
  home: Home,
  prepared: Prepared | null,
  settings: Settings | null,
): Promise<SavedBook> {
  const of = { homeId: home.id };
  const [
    sources,
    corrections,
    dismissals,
    journal,
    readings,
    trials,
    pictures,
    appliances,
    offers,
    scenarios,
    layouts,
  ] = await Promise.all([
    sourcesOf(home.id),
    db.corrections.where(of).sortBy('id'),
    db.dismissals.where(of).toArray(),
    db.journal.where(of).sortBy('id'),
    db.readings.where(of).sortBy('id'),
    db.trials.where(of).sortBy('id'),
    db.attachments.where(of).sortBy('id'),
    db.appliances.where(of).toArray(),
    db.offers.where(of).toArray(),
    db.scenarios.where(of).toArray(),
    db.layouts.where(of).toArray(),
  ]);
  const shown = checkedRows(pictureRow, pictures).good.map((row, i) => ({
    ...row,
    path: pathOfFile(i, row.name, 'attachments'),
  }));
  const kept = new Map<number, { path: string; file: Blob }>();
  for (const { fileOf, fileName } of sources) {
    if (kept.has(fileOf)) continue;
    const [row] = checkedRows(fileRow, [await db.files.get(fileOf)]).good;
    if (row) kept.set(fileOf, { path: pathOfFile(kept.size, fileName), file: row.file });
  }
  const whole = sources.filter(({ fileOf }) => kept.has(fileOf));
  const notes = checkedRows(noteRow, journal).good.map(({ fromMs, toMs, kind, text, leaveOut }) => ({
    fromMs,
    toMs,
    kind,
    text,
    leaveOut,
  }));
  const chunks: Uint8Array<ArrayBuffer>[] = [];
  const bytes = bookOf(
    {
      id: home.id,
      files: [...kept.values(), ...shown.map(({ path, picture }) => ({ path, file: picture }))].map(
        ({ path, file }): BookFile => ({ path, open: () => bytesOf(file) }),
      ),
      sources: whole.map(({ fileOf, fileName, name, mapping, importedAt, removedAt, findings }) => ({
        path: kept.get(fileOf)!.path,
        fileName,
        name,
        mapping,
        importedAt,
        removedAt,
        leftOut: findings.filter(({ code }) => code === LEFT_OUT),
      })),
      readings: checkedRows(readingRow, readings).good.map((row) => readingSchema.parse(row)),
      corrections: checkedRows(correctionRow, corrections).good.map(({ correction, reason, madeAt }) => ({
        correction,
        reason,
        madeAt,
      })),
      dismissals: dismissals.map(({ key }) => key),
      trials: checkedRows(trialRow, trials).good.map(({ id, file, struck, state, madeAt }) => ({
        file,
        struck,
        state,
        madeAt,
        pictures: shown
          .filter(({ trialId }) => trialId === id)
          .map(({ path, name, place, addedAt }) => ({ path, name, place, addedAt })),
      })),
      appliances: checkedRows(appliancesRow, appliances).good.flatMap((row) => row.appliances),
      offers: checkedRows(offersRow, offers).good.flatMap((row) => row.offers),
      reportLayout: checkedRows(layoutRow, layouts).good[0]?.layout ?? null,
      settings,
      scenarios: checkedRows(scenariosRow, scenarios).good.flatMap((row) => row.scenarios),
    },
    { system: home.system, journal: notes },
    prepared,
    Date.now(),
  );
  for await (const chunk of bytes) chunks.push(new Uint8Array(chunk));
  return {
    name: `${home.system.name.replace(/[^\p{L}\p{N}]+/gu, '-').replace(/^-|-$/g, '') || 'home'}.book.zip`,
    blob: new Blob(chunks, { type: 'application/zip' }),
    without: sources.filter(({ fileOf }) => !kept.has(fileOf)).map(({ name }) => name),
  };
}

async function* bytesOf(file: Blob): AsyncGenerator<Uint8Array> {
  const reader = file.stream().getReader();
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return;
    yield value;
  }
}
