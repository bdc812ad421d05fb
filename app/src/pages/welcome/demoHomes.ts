import { parseReadings, parseSystem, type Reading, type System } from '@long-tally/core';
import { z } from 'zod';

const indexSchema = z.object({
  homes: z.array(
    z.object({
      id: z.string(),
      name: z.string(),
      about: z.string(),
      system: z.string(),
      logs: z.array(z.string()),
      readings: z.string().optional(),
      look: z.array(z.object({ says: z.string(), path: z.string() })).default([]),
    }),
  ),
});

export type DemoHome = z.infer<typeof indexSchema>['homes'][number];

const FOLDER = '/demo-homes/';

/** The demo homes this server hands out; none when it was started without them. */
export async function listDemoHomes(): Promise<DemoHome[]> {
  const response = await fetch(`${FOLDER}index.json`);
  if (!response.ok) return [];
  return indexSchema.parse(await response.json()).homes;
}

/** A demo home's system, its logs as files, as a user would bring them, and the readings typed beside them. */
export async function fetchDemoHome(
  demo: DemoHome,
): Promise<{ system: System; files: File[]; readings: Reading[] }> {
  const system = parseSystem(await (await fetch(FOLDER + demo.system)).text(), demo.system);
  const files = await Promise.all(
    demo.logs.map(
      async (path) => new File([await (await fetch(FOLDER + path)).blob()], path.split('/').at(-1)!),
    ),
  );
  const readings = demo.readings
    ? parseReadings(await (await fetch(FOLDER + demo.readings)).text(), demo.readings)
    : [];
  return { system, files, readings };
}
