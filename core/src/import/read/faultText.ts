/** Codes of words begin above every number that a file may give as a fault code. */
const FIRST = 2e9;
const MOST_TEXTS = 500;
const LONGEST = 200;
/** Words with which loggers say that all is well, and that nothing is known. */
const NONE =
  /^(no(ne|rmal)?|ok(ay)?|good|clear(ed)?|false|no (fault|error|alarm|warning)s?|kein(e)?( fehler)?)$/i;
const MISSING = /^(nan|null|n\/?a|unknown|-+)$/i;

/**
 * The number that stands for a fault written as words: made of the words alone, so that files agree on it. 0 for words
 * that say there is none, NaN for those that say nothing.
 * @param texts takes the words by their number
 * @source FNV-1a, 32 bits: common practice
 */
export function codeOf(cell: string, texts: Record<number, string>): number {
  if (NONE.test(cell)) return 0;
  if (MISSING.test(cell)) return NaN;
  const text = cell.slice(0, LONGEST);
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193) >>> 0;
  const code = FIRST + hash;
  // A column that says something new in every row is no list of faults.
  if (code in texts || Object.keys(texts).length < MOST_TEXTS) texts[code] = text;
  return code;
}
