import type { FileUnit, Kind, Role } from '../read/mapping.js';
import type { Alternative } from './conclusion.js';
import type { Hint } from './words.js';

/** What a column is taken for, with what speaks for it; changed in place while more evidence is heard. */
export interface Guess {
  readonly field: number;
  readonly name: string;
  role: Role;
  unit: FileUnit;
  kind: Kind;
  sign: 1 | -1;
  readonly sample: 'mean' | 'instant';
  readonly hint: Hint;
  readonly evidence: string[];
  readonly alternatives: Alternative[];
  confidence: number;
  asks: boolean;
}
