import { proxy } from 'comlink';
import { useSyncExternalStore } from 'react';
import type { Home } from '../db/database.js';
import { recordChange } from '../db/changes.js';
import type { Reasoned } from '../db/sources.js';
import { beginImport, type ImportSession } from './client.js';
import type { Found, ImportProgress, ReadSummary, SetAside } from '../protocol.js';
import { failureText } from './words.js';

/** What is under way with the files that were dropped. */
export interface Stage {
  readonly found: readonly Found[];
  readonly aside: readonly SetAside[];
  readonly summaries: readonly ReadSummary[] | null;
}

/** The import of a home: it goes on while its reader looks at other views. */
export interface Import {
  readonly progress: ImportProgress | null;
  readonly stage: Stage | null;
  /** How it ended, in words. */
  readonly said: readonly string[];
}

interface Running {
  state: Import;
  intake: ImportSession | null;
  /** Counts its steps: what a worker reports of one that is over is let go. */
  step: number;
  /** A file chosen in the moment in which another is stored waits for it: they share the worker. */
  storing: Promise<void> | null;
}

const IDLE: Import = { progress: null, stage: null, said: [] };
const imports = new Map<string, Running>();
const listeners = new Set<() => void>();

function runningOf(homeId: string): Running {
  let running = imports.get(homeId);
  if (!running) imports.set(homeId, (running = { state: IDLE, intake: null, step: 0, storing: null }));
  return running;
}

function set(homeId: string, change: Partial<Import>): void {
  const running = runningOf(homeId);
  running.state = { ...running.state, ...change };
  for (const listener of listeners) listener();
}

/** The import of a home as it stands. */
export function useImport(homeId: string): Import {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => imports.get(homeId)?.state ?? IDLE,
  );
}

/** Begins a step; what the worker reports of it is shown until the next. */
function follow(homeId: string, first: ImportProgress) {
  const running = runningOf(homeId);
  const mine = ++running.step;
  set(homeId, { progress: first });
  return proxy((next: ImportProgress) => {
    if (running.step === mine) set(homeId, { progress: next });
  });
}

function rest(homeId: string): void {
  runningOf(homeId).step++;
  set(homeId, { progress: null });
}

/** Ends an import where it is, with words on how. */
export function endImport(homeId: string, said: readonly string[]): void {
  const running = runningOf(homeId);
  running.intake?.end();
  running.intake = null;
  running.step++;
  set(homeId, { progress: null, stage: null, said });
}

/** Stops an import at once: the worker ends, and what it had not stored whole is not stored. */
export function cancelImport(homeId: string): void {
  const { state } = runningOf(homeId);
  const names = state.stage?.found.map(({ name }) => name) ?? [state.progress?.name ?? ''];
  endImport(
    homeId,
    names.map((name) => `${name}: cancelled; nothing of it was stored.`),
  );
}

/** Runs a step unless it was cancelled meanwhile; a failure ends the import in words. */
async function step(
  homeId: string,
  names: readonly string[],
  work: (intake: ImportSession) => Promise<void>,
): Promise<void> {
  const running = runningOf(homeId);
  const own = (running.intake ??= beginImport());
  try {
    await work(own);
  } catch (error) {
    if (running.intake === own) endImport(homeId, [`${names.join(', ')}: ${failureText(error)}`]);
  }
}

/** Looks at files, and reads them at once where nothing of them is open; what they are taken for can still be changed. */
export async function bringFiles(home: Home, files: readonly File[]): Promise<void> {
  const running = runningOf(home.id);
  if (files.length === 0) return;
  const names = files.map(({ name }) => name);
  const stored = running.storing && (await running.storing.then(() => running.state.said));
  const { progress, stage } = running.state;
  if (progress) {
    set(home.id, {
      said: [
        `${names.join(', ')}: not taken, since ${progress.name} is still being read. Bring it again when that has ended or is cancelled.`,
      ],
    });
    return;
  }
  const replaced = stage?.found.map(({ name }) => `${name}: not imported; other files were chosen after it.`);
  endImport(home.id, stored ?? replaced ?? []);
  await step(home.id, names, async (intake) => {
    const report = follow(home.id, { name: names[0]!, share: 0, stage: 'looking' });
    const looked = await intake.ask((remote) => remote.look(home, files, report));
    if (running.intake !== intake) return;
    const open = looked.found.some(
      ({ recognition, isRemembered }) => !isRemembered && recognition.conclusions.some(({ asks }) => asks),
    );
    if (!open && looked.found.length > 0) return readWith(intake, home, looked.found, looked.aside);
    rest(home.id);
    set(home.id, { stage: { ...looked, summaries: null } });
  });
}

/** Reads files whole, each as it is shown. */
export function readFiles(home: Home, found: readonly Found[], aside: readonly SetAside[]): Promise<void> {
  const names = found.map(({ name }) => name);
  return step(home.id, names, (intake) => readWith(intake, home, found, aside));
}

async function readWith(
  intake: ImportSession,
  home: Home,
  found: readonly Found[],
  aside: readonly SetAside[],
): Promise<void> {
  const report = follow(home.id, { name: found[0]!.name, share: 0, stage: 'reading' });
  const result = await intake.ask((remote) => remote.read(home, found, report));
  if (runningOf(home.id).intake !== intake) return;
  rest(home.id);
  set(home.id, { stage: { found, aside: [...aside, ...result.aside], summaries: result.summaries } });
}

/** Stores what was read, with the corrections chosen for it. */
export async function storeFiles(
  home: Home,
  summaries: readonly ReadSummary[],
  corrections: readonly Reasoned[],
): Promise<void> {
  const names = summaries.map(({ name }) => name);
  const running = runningOf(home.id);
  running.storing = step(home.id, names, async (intake) => {
    const report = follow(home.id, { name: names[0]!, share: 0, stage: 'storing' });
    const refused = await intake.ask((remote) => remote.store(home, corrections, report));
    if (running.intake !== intake) return;
    const said = refused ? refused.problems : names.map((name) => `${name} is imported.`);
    if (!refused) for (const says of said) await recordChange(home.id, says);
    endImport(home.id, said);
  });
  await running.storing;
  running.storing = null;
}

/** Lets go of how the last import ended, once its reader has seen it. */
export function forgetSaid(homeId: string): void {
  const { state } = runningOf(homeId);
  if (!state.progress && !state.stage) set(homeId, { said: [] });
}

/** Takes another reading of the files for what is to be imported. */
export function readAgain(homeId: string): void {
  const { state } = runningOf(homeId);
  if (state.stage) set(homeId, { stage: { ...state.stage, summaries: null } });
}
