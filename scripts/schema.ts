import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import {
  correctionsJsonSchema,
  figuresTable,
  journalJsonSchema,
  mappingJsonSchema,
  reportJsonSchema,
  runJsonSchema,
  sourcesJsonSchema,
  scenarioJsonSchema,
  systemJsonSchema,
  trialJsonSchema,
  trialsJsonSchema,
} from '@long-tally/core';

const folder = new URL('../docs/schema/', import.meta.url);
mkdirSync(folder, { recursive: true });
for (const [name, schema] of [
  ['system', systemJsonSchema()],
  ['mapping', mappingJsonSchema()],
  ['run', runJsonSchema()],
  ['trial', trialJsonSchema()],
  ['scenario', scenarioJsonSchema()],
  ['journal', journalJsonSchema()],
  ['sources', sourcesJsonSchema()],
  ['trials', trialsJsonSchema()],
  ['corrections', correctionsJsonSchema()],
  ['report', reportJsonSchema()],
] as const)
  writeFileSync(new URL(`${name}.schema.json`, folder), `${JSON.stringify(schema, null, 2)}\n`);

// The tables of figures in the documents come from the registry.
const methods = new URL('../docs/methods.md', import.meta.url);
const text = readFileSync(methods, 'utf8');
const [begin, end] = ['<!-- figures -->', '<!-- end of figures -->'];
const before = text.slice(0, text.indexOf(begin) + begin.length);
writeFileSync(methods, `${before}\n\n${figuresTable()}\n\n${text.slice(text.indexOf(end))}`);
