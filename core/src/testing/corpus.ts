import type { Shape } from './shape.js';
import { COLUMN_SHAPES } from './shapes/columnShapes.js';
import { COUNTER_SHAPES, DIGIT_COUNTER_SHAPES } from './shapes/counterShapes.js';
import { ENERGY_SHAPES, NAMED_ENERGY_SHAPES } from './shapes/energyShapes.js';
import { FILE_SHAPES } from './shapes/fileShapes.js';
import { PART_SHAPES } from './shapes/partShapes.js';
import { POWER_SHAPES } from './shapes/powerShapes.js';
import { STATEMENT_SHAPES } from './shapes/statementShapes.js';
import { TIME_SHAPES } from './shapes/timeShapes.js';

/** Logs of many shapes from the same series, each exact enough that what is spoilt in it shows; every word in them is invented. */
export const SHAPES: readonly Shape[] = [
  ...TIME_SHAPES,
  ...FILE_SHAPES,
  ...POWER_SHAPES,
  ...ENERGY_SHAPES,
  ...COUNTER_SHAPES,
  ...COLUMN_SHAPES,
];

/** Shapes of coarse, partial and many-named material, which is read as it is. */
export const MORE_SHAPES: readonly Shape[] = [
  ...NAMED_ENERGY_SHAPES,
  ...DIGIT_COUNTER_SHAPES,
  ...STATEMENT_SHAPES,
  ...PART_SHAPES,
];
