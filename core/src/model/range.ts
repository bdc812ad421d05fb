/** A half-open stretch of time, epoch ms. */
export interface Range {
  readonly fromMs: number;
  readonly toMs: number;
}
