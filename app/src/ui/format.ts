import {
  DEFAULT_SETTINGS,
  gridFreeWhOf,
  INSTANT_QUANTITIES,
  offsetAt,
  plural,
  quantityText,
  zoneOf,
  type Figure,
  type Role,
  type Settings,
  type System,
  type Unit,
  type WorkingLine,
} from '@long-tally/core';

const MINUS = '\u2212';
const formatters = new Map<number, Intl.NumberFormat>();
const NARROW_SPACE = '\u202f';

/** Marks of thousands and decimals, by how 1234.5 is written. */
const MARKS: Readonly<Record<Settings['numbers'], readonly [thousands: string, decimals: string]>> = {
  '1,234.5': [',', '.'],
  '1 234.5': [NARROW_SPACE, '.'],
  '1.234,5': ['.', ','],
  '1 234,5': [NARROW_SPACE, ','],
};

/** What the reader has chosen; it holds for every text from here on, so the page is drawn anew when it changes. */
let chosen = DEFAULT_SETTINGS;

/** Numbers, dates and temperatures are written so from here on. */
export function showAs(settings: Settings): void {
  chosen = settings;
}

/** The order in which the reader writes dates. */
export const datesOrder = (): Settings['dates'] => chosen.dates;

/** The reader's marks of thousands and decimals. */
export const numberMarks = () => MARKS[chosen.numbers];

/** A number with a fixed count of decimals, the reader's marks and a true minus sign. */
export function decimal(value: number, digits: number): string {
  let formatter = formatters.get(digits);
  if (!formatter) {
    formatter = new Intl.NumberFormat('en', { minimumFractionDigits: digits, maximumFractionDigits: digits });
    formatters.set(digits, formatter);
  }
  const [thousands, decimals] = numberMarks();
  const text = formatter
    .format(Math.abs(value))
    .replace(/[,.]/g, (mark) => (mark === ',' ? thousands : decimals));
  const isZero = !/[1-9]/.test(text);
  return value < 0 && !isZero ? `${MINUS}${text}` : text;
}

/** A number as it stands in a field for the reader to change: with his decimal mark, without thousands. */
export function fieldText(value: number | string): string {
  return String(value).replace('.', numberMarks()[1]);
}

const UNIT_TEXT: Partial<Record<Unit, string>> = {
  share: '%',
  'kWh/day': 'kWh a day',
  'share/year': '% a year',
  currency: '',
  'currency/kWh': 'a kWh',
  count: '',
  date: '',
  'C-rate': 'C',
};

/** The unit as it stands behind a number. */
export function unitText(unit: Unit): string {
  return unit === '°C' ? degreeUnit() : (UNIT_TEXT[unit] ?? unit);
}

/** A value in the measure the user reads: shares as per cent, energies with fewer decimals as they grow. */
export function valueText(value: number, unit: Unit): string {
  if (unit === 'date') return monthFormat.format(value);
  if (unit === '°C') return decimal(degreesOf(value), 1);
  return decimal(unit.startsWith('share') ? value * 100 : value, digitsOf(value, unit));
}

const monthFormat = new Intl.DateTimeFormat('en-NZ', { timeZone: 'UTC', month: 'short', year: 'numeric' });

function digitsOf(value: number, unit: Unit): number {
  const size = Math.abs(value);
  if (unit.startsWith('share')) return 1;
  if (unit === 'kWh' && chosen.energyDigits !== 'auto') return Number(chosen.energyDigits);
  if (unit === 'kWh' || unit === 'h') return size < 1000 ? 1 : 0;
  if (unit === 'kWh/day') return 2;
  if (unit === 'kW' || unit === 'C-rate') return 2;
  if (unit === 'currency' || unit === 'Hz') return 2;
  if (unit === 'currency/kWh') return 4;
  if (unit === 'years') return 1;
  if (unit === 'cycles') return size < 100 ? 1 : 0;
  if (unit === 'W') return size < 10 ? 1 : 0;
  return Number.isInteger(value) ? 0 : 1;
}

/** Month and year of an instant, `Dec 2030`. */
export function monthText(ms: number): string {
  return monthFormat.format(ms);
}

/** Two bounds with so many decimals, `80.7 – 82.1`. */
export function betweenText(low: number, high: number, digits: number, between = ' – '): string {
  return `${decimal(low, digits)}${between}${decimal(high, digits)}`;
}

/**
 * `80.7 – 82.1`, or nothing when the figure has no value.
 * @param between what stands between the bounds: a dash is no good beside the signs of differences
 */
export function intervalText(
  { low, high, unit, value }: Pick<Figure, 'value' | 'low' | 'high' | 'unit'>,
  between = ' – ',
): string {
  if (value === null || low === null || high === null) return '';
  if (unit === 'date') return `${monthFormat.format(low)}${between}${monthFormat.format(high)}`;
  const scale = unit.startsWith('share') ? 100 : 1;
  return betweenText(low * scale, high * scale, digitsOf(value, unit), between);
}

/** A figure with its unit, and its interval behind it; money in the home's currency. */
export function figureText(figure: Figure, currency: string): string {
  if (figure.value === null) return 'not known';
  const unit = figure.unit === 'currency' ? currency : unitText(figure.unit);
  const interval = intervalText(figure);
  return `${valueText(figure.value, figure.unit)} ${unit}`.trim() + (interval ? ` (${interval})` : '');
}

type DateStyle = 'day' | 'weekday' | 'month' | 'monthShort' | 'long' | 'plain';
const STYLES: Readonly<Record<DateStyle, Intl.DateTimeFormatOptions>> = {
  day: { day: 'numeric', month: 'short' },
  weekday: { weekday: 'short' },
  month: { month: 'long', year: 'numeric' },
  monthShort: { month: 'short', year: 'numeric' },
  long: { weekday: 'long', day: 'numeric', month: 'long', year: 'numeric' },
  plain: { day: 'numeric', month: 'long', year: 'numeric' },
};
const dateFormats = new Map<string, Intl.DateTimeFormat>();

function dateFormat(style: DateStyle, timeZone: string): Intl.DateTimeFormat {
  // Month before day as in American English; ISO dates keep the words of the others.
  const locale = chosen.dates === 'Sep 14, 2024' ? 'en-US' : 'en-NZ';
  const key = `${locale} ${style} ${timeZone}`;
  let format = dateFormats.get(key);
  if (!format)
    dateFormats.set(key, (format = new Intl.DateTimeFormat(locale, { timeZone, ...STYLES[style] })));
  return format;
}

/** An ISO date in words, in the reader's order. */
export function dateText(date: string, style: DateStyle): string {
  if (chosen.dates === '2024-09-14' && style === 'plain') return date;
  if (chosen.dates === '2024-09-14' && style === 'long')
    return `${dateFormat('weekday', 'UTC').format(Date.parse(date))} ${date}`;
  return dateFormat(style, 'UTC').format(Date.parse(date));
}

/** The unit in which the reader takes and types temperatures. */
export const degreeUnit = (): '°C' | '°F' => (chosen.temperature === 'F' ? '°F' : '°C');

/** Celsius in the reader's measure. */
export function degreesOf(celsius: number): number {
  return chosen.temperature === 'F' ? celsius * 1.8 + 32 : celsius;
}

/** What the reader typed as a temperature in Celsius, to a thousandth, so that it is typed back as it was; NaN stays NaN. */
export function celsiusOf(degrees: number): number {
  return chosen.temperature === 'F' ? Math.round(((degrees - 32) / 1.8) * 1000) / 1000 : degrees;
}

/** The number of a line of a working: a part of an interval as `±0.25`, or `+0.25` where it widens it upwards only. */
export function workingText({ value, unit, role, side }: WorkingLine): string {
  if (role !== 'uncertainty') return valueText(value, unit);
  const size = unit === 'share' ? decimal(100 * value, 2) : valueText(value, unit);
  return `${side === undefined ? '±' : side === 'above' ? '+' : MINUS}${size}`;
}

/** Celsius in the reader's measure, `12.3 °C` or `54.1 °F`, never broken over two lines. */
export function temperatureText(celsius: number, digits: number): string {
  return `${decimal(degreesOf(celsius), digits)}\u00a0${degreeUnit()}`;
}

/** Celsius as it stands in a field for the reader to change: to a hundredth of a degree, no more decimals than it has. */
export function degreesTyped(celsius: number | undefined): string {
  return celsius === undefined ? '' : fieldText(Math.round(degreesOf(celsius) * 100) / 100);
}

/** Wall-clock time of an instant at the site, `18:40`; `18:40:05` where the log's step is shorter than a minute. */
export function clockText(ms: number, timeZone: string, stepMs = 60_000): string {
  return clockFormat(timeZone, stepMs < 60_000).format(ms);
}

/** The date of an instant at the site, in words. */
export function localDateText(ms: number, timeZone: string): string {
  return dateText(localDateOf(ms, timeZone), 'plain');
}

/** Date and time of an instant at the site, `21 May 2024, 19:30`. */
export function momentText(ms: number, timeZone: string): string {
  return `${localDateText(ms, timeZone)}, ${clockText(ms, timeZone)}`;
}

const clockFormats = new Map<string, Intl.DateTimeFormat>();

function clockFormat(timeZone: string, hasSeconds: boolean): Intl.DateTimeFormat {
  const key = `${timeZone} ${hasSeconds}`;
  let format = clockFormats.get(key);
  if (!format) {
    const seconds = hasSeconds ? ({ second: '2-digit' } as const) : {};
    format = new Intl.DateTimeFormat('en-GB', { timeZone, hour: '2-digit', minute: '2-digit', ...seconds });
    clockFormats.set(key, format);
  }
  return format;
}

/** Hours as `2 h 05`, or `40 min` below an hour. */
export function hoursText(hours: number): string {
  const minutes = Math.round(hours * 60);
  if (minutes < 60) return `${minutes} min`;
  return `${Math.floor(minutes / 60)} h ${String(minutes % 60).padStart(2, '0')}`;
}

/** A short stretch as `40 s`, longer ones as {@link hoursText} has them. */
export function shortTimeText(seconds: number): string {
  return seconds < 90 ? `${Math.round(seconds)} s` : hoursText(seconds / 3600);
}

/** Import up to which a day of the home counts as free of the grid, `0.5 kWh`. */
export function gridLimitText(system: Pick<System, 'gridFreeKWh'>): string {
  return `${decimal(gridFreeWhOf(system) / 1000, 2).replace(/0$/, '')} kWh`;
}

/** `1 day`, `2 days`. */
export function counted(count: number, one: string, many?: string): string {
  return `${decimal(count, 0)} ${plural(count, one, many)}`;
}

const COLUMN_WORDS: Partial<Record<Role, string>> = {
  batteryDc: 'battery (DC side)',
  leg1: 'leg 1',
  leg2: 'leg 2',
  leg3: 'leg 3',
};

/** What a column of a log is called, as a label: shorter than a quantity in a sentence. */
export function columnText(role: Role): string {
  const words = COLUMN_WORDS[role];
  if (words !== undefined) return words;
  const quantity = INSTANT_QUANTITIES.find((one) => one === role);
  return quantity ? quantityText(quantity) : role.replace(/^(load|solar):/, '$1: ');
}

/** The date of an instant at the site, `2024-05-21`. */
export function localDateOf(ms: number, timeZone: string): string {
  return clockOf(ms, timeZone).slice(0, 10);
}

/** An instant as the site's clock shows it, `2024-05-21T19:30`. */
export function clockOf(ms: number, timeZone: string): string {
  return new Date(ms + offsetAt(zoneOf(timeZone), ms)).toISOString().slice(0, 16);
}
