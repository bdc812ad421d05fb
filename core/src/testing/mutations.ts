import type { Mutation } from './mutation.js';
import { RETOLD } from './retold.js';
import { SPOILT } from './spoilt.js';

/** Every class of mutation. */
export const MUTATIONS: readonly Mutation[] = [...RETOLD, ...SPOILT];
