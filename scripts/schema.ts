import { mkdirSync, writeFileSync } from 'node:fs';
import {
  correctionsJsonSchema,
  journalJsonSchema,
  mappingJsonSchema,
  runJsonSchema,
  sourcesJsonSchema,
  systemJsonSchema,
} from '@long-tally/core';

const folder = new URL('../docs/schema/', import.meta.url);
mkdirSync(folder, { recursive: true });
for (const [name, schema] of [
  ['system', systemJsonSchema()],
  ['mapping', mappingJsonSchema()],
  ['run', runJsonSchema()],
  ['journal', journalJsonSchema()],
  ['sources', sourcesJsonSchema()],
  ['corrections', correctionsJsonSchema()],
] as const)
  writeFileSync(new URL(`${name}.schema.json`, folder), `${JSON.stringify(schema, null, 2)}\n`);
