import { createContext } from 'react';

/** The range that a view is drawn from, in words, for what is taken out of it: a chart's file. */
export const RangeWords = createContext('');
