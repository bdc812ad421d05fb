import { InputError } from '../../model/problem.js';

/**
 * Refuses what cannot be a table of text before a row of it is read.
 * @param first the first bytes of the text
 * @throws InputError naming what the file looks like
 */
export function refuseStrangers(first: Uint8Array, where: string): void {
  const refuse = (found: string, mend: string) => {
    throw new InputError([{ where, found, mend }]);
  };
  const bring = 'Bring the log as CSV text, its first row naming the columns.';
  if (first.length === 0) refuse('The file is empty.', 'Download it again, or bring another log.');
  if (first.subarray(0, 4096).includes(0)) refuse('The file holds binary data, not text.', bring);
  const start = String.fromCharCode(...first.subarray(0, 512))
    .trimStart()
    .toLowerCase();
  if (/^(\u00ef\u00bb\u00bf)?\s*<(!doctype|html|head|body|\?xml|script|div)/.test(start)) {
    refuse(
      'This is a web page, not a log.',
      'The download may have ended on a log-in page: sign in and download the log again.',
    );
  }
}
