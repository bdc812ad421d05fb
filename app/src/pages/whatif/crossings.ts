import { decimal } from '../../ui/format.js';

/** What numbers of modules are set against. */
export interface Crossing {
  readonly key: string;
  readonly title: string;
  /** What the table of self-sufficiency tells. */
  readonly tells: string;
  readonly values: readonly number[];
  readonly says: (value: number) => string;
}

/** Every crossing, by the name under which it is chosen. */
export const CROSSINGS = {
  reserve: {
    key: 'battery.reserve',
    title: 'Modules and reserve',
    tells: 'what is kept for outages serves no evening',
    values: [0.1, 0.2, 0.3, 0.4, 0.5],
    says: (reserve) => `reserve ${decimal(100 * reserve, 0)} %`,
  },
  panels: {
    key: 'arraysScale.all',
    title: 'Modules and panels',
    tells: 'where more modules add little, more panels may, and the other way round',
    values: [0.5, 0.75, 1, 1.25, 1.5, 2],
    says: (scale) => (scale === 1 ? 'panels as they are' : `panels × ${decimal(scale, 2)}`),
  },
} as const satisfies Record<string, Crossing>;

export type CrossedWith = keyof typeof CROSSINGS | 'nothing';
