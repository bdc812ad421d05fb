import { printFades } from './fades.js';
printFades();
