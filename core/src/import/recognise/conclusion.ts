/** One thing concluded of a file, with what speaks for it. */
export interface Conclusion {
  /** What it is about: `separator`, `time.format`, `time.zone`, `time.marks`, `column:NAME`. */
  readonly about: string;
  /** In words, as the reader sees it. */
  readonly says: string;
  readonly evidence: readonly string[];
  /** 0 to 1: how sure it is. */
  readonly confidence: number;
  /** Other readings, with what each would mean, for the reader to choose from. */
  readonly alternatives: readonly Alternative[];
  /** True when the data leave it open and it makes a difference: then it is asked, not guessed. */
  readonly asks: boolean;
}

/** Another reading of the same data: the values of the mapping's keys that it would set. */
export interface Alternative {
  readonly says: string;
  readonly set: Readonly<Record<string, string | number>>;
}
