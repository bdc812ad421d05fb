import swcJest from '@swc/jest';

/**
 * Jest runs every file in a context of its own, in which each look at a global costs a call; loops over millions of
 * samples, or of bytes, feel that. Each module gets the standard globals as constants of its own instead.
 */
const GLOBALS = [
  'Math',
  'Number',
  'NaN',
  'Infinity',
  'Object',
  'Array',
  'Map',
  'Set',
  'Float64Array',
  'DataView',
  'Uint8Array',
  'Uint16Array',
  'Int32Array',
  'Uint32Array',
];

const transformer = (tsx) =>
  swcJest.createTransformer({
    jsc: {
      parser: { syntax: 'typescript', tsx },
      transform: { react: { runtime: 'automatic' } },
      target: 'es2022',
    },
    module: { type: 'es6' },
  });
const [swc, swcOfViews] = [transformer(false), transformer(true)];
const compilerOf = (path) => (path.endsWith('.tsx') ? swcOfViews : swc);

const withGlobals = (code) => {
  const used = GLOBALS.filter((name) => new RegExp(`\\b${name}\\b`).test(code));
  return `const { ${used.join(', ')} } = globalThis; ${code}`;
};
const isOurs = (path) => /\.tsx?$/.test(path);

export default {
  process(text, path, options) {
    if (!isOurs(path)) return { code: withGlobals(text) };
    const { code, map } = compilerOf(path).process(text, path, options);
    return { code: withGlobals(code), map };
  },
  async processAsync(text, path, options) {
    if (!isOurs(path)) return { code: withGlobals(text) };
    const { code, map } = await compilerOf(path).processAsync(text, path, options);
    return { code: withGlobals(code), map };
  },
  getCacheKey: (text, path, options) =>
    `${withGlobals.toString()} ${GLOBALS.join()} ${compilerOf(path).getCacheKey(text, path, options)}`,
};
