/** Why a figure is not measured: what the log lacks, and what would supply it. */
export function lackingText(lacks: readonly string[]): string {
  const list = [lacks.slice(0, -1).join(', no '), lacks.at(-1)].filter(Boolean).join(' and no ');
  return `The log has no ${list}; ${lacks.length === 1 ? 'a column of it' : 'columns of them'} would supply this.`;
}
