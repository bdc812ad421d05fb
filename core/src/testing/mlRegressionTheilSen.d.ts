/** The package ships no types of its own. */
declare module 'ml-regression-theil-sen' {
  export default class TheilSenRegression {
    constructor(x: readonly number[], y: readonly number[]);
    readonly slope: number;
    readonly intercept: number;
  }
}
