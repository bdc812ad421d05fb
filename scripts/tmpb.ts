import { printWhatifs } from './whatifs.js';
import { printWhatifSpeed } from './whatifSpeed.js';
printWhatifs(); printWhatifSpeed();
