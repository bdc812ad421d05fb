import type { FileUnit, Kind, Role } from '../read/mapping.js';
import { INSTANT_QUANTITIES } from '../../model/quantity.js';
import { UNIT_WORDS, WORDS } from './vocabulary.js';

/** What a header word hints at. Every hint may be wrong: the data decide. */
export interface Hint {
  readonly role: Role | null;
  readonly unit: FileUnit | null;
  readonly kind: Kind | null;
  /** The direction that the header calls positive, where it says so. */
  readonly sign: 1 | -1 | null;
  readonly sample: 'mean' | 'instant' | null;
}

/** Words of a header, folded: accents away, camel case and numbers cut apart, lower case. */
export function wordsOf(header: string): string[] {
  return header
    .replace(/([a-z])([A-Z][a-z])/g, '$1 $2')
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/feed[-\s]in/g, 'feedin')
    .replace(
      /state[\s_-]*of[\s_-]*charge|charge[\s_-]*level|battery[\s_-]*level|battery[\s_-]*(?:%|percent)/g,
      ' soc ',
    )
    .split(/[^a-z%°]+|(?<=[a-z])(?=\d)/)
    .filter((word) => word !== '');
}

/** The unit a header or a cell of the unit row writes, or null. */
function unitIn(header: string): FileUnit | null {
  const bracketed = /[[(]\s*([^\])]+?)\s*[\])]/g;
  const candidates = [...header.matchAll(bracketed)].map(([, text]) => text!);
  const trailing = /(?:^|[\s_\-./,])(kWh|MWh|Wh|kW|MW|W|%|pct|V|A|Hz|°\s?[CF]|degC|degF|C|F)\s*$/i.exec(
    header.trim(),
  );
  if (trailing) candidates.push(trailing[1]!);
  for (const text of candidates)
    for (const [pattern, unit] of UNIT_WORDS) if (pattern.test(text.trim())) return unit;
  // An energy or a power stands in the middle of a name too: to_grid_wh_total.
  const inside = /(?:^|[\s_\-./])(kWh|MWh|Wh|kW)(?=$|[\s_\-./])/i.exec(header);
  return UNIT_WORDS.find(([pattern]) => inside && pattern.test(inside[1]!))?.[1] ?? null;
}

/**
 * What a header says of its column.
 * @param unitCell the cell of a unit row under it, empty where there is none
 */
export function hintOf(header: string, unitCell: string): Hint {
  const words = wordsOf(header);
  const has = (meaning: string) => words.some((word) => WORDS[meaning]!.includes(word));
  const unit =
    unitIn(unitCell) ?? UNIT_WORDS.find(([pattern]) => pattern.test(unitCell.trim()))?.[1] ?? unitIn(header);
  const role = roleOf(header, words, has, unit);
  const isEnergy = unit !== null && unit.endsWith('Wh');
  const kind: Kind | null =
    role === null
      ? null
      : isState(role)
        ? 'state'
        : has('total') && !has('power') && (isEnergy || has('energy'))
          ? 'counter'
          : isEnergy && has('daily')
            ? 'daily-counter'
            : unit !== null && !isEnergy
              ? 'power'
              : has('power') && !isEnergy
                ? 'power'
                : null;
  return {
    role,
    unit,
    kind,
    sign: signIn(header),
    sample: has('instant') && !has('current') ? 'instant' : has('average') ? 'mean' : null,
  };
}

/** True for what has a value at an instant and no energy. */
export function isState(role: Role): boolean {
  return (INSTANT_QUANTITIES as readonly string[]).includes(role);
}

function roleOf(
  header: string,
  words: readonly string[],
  has: (meaning: string) => boolean,
  unit: FileUnit | null,
): Role | null {
  return (
    stateIn(has, unit) ??
    (isOther(header, has, unit) ? null : (partIn(header, words, has, unit) ?? flowIn(header, has, unit)))
  );
}

/** A state, weather or price that a header names. */
function stateIn(has: (meaning: string) => boolean, unit: FileUnit | null): Role | null {
  if (has('soc') || (has('battery') && unit === '%')) return 'soc';
  if (has('temperature') || unit === '°C' || unit === '°F')
    // A mean temperature without another word is that of a weather service.
    return has('battery')
      ? 'batteryTemp'
      : has('outdoor') || (has('average') && !has('device'))
        ? 'outdoorTemp'
        : null;
  if (has('frequency') || unit === 'Hz') return has('battery') ? null : 'gridHz';
  if (has('voltage') || unit === 'V') return has('battery') ? 'batteryV' : has('grid') ? 'gridV' : null;
  if (unit === 'A' || (has('current') && has('battery') && unit === null))
    return has('battery') ? 'batteryA' : null;
  if (has('rain') && (unit === 'mm' || unit === null)) return 'rain';
  if (unit === 'W/m²' || (has('irradiance') && unit === null)) return 'irradiance';
  if (unit === 'money/kWh' || unit === 'cents/kWh' || (has('price') && (unit === null || unit === 'money')))
    return has('export') ? 'exportRate' : 'importRate';
  if (unit === 'money' || (has('cost') && unit === null)) return 'cost';
  if (has('fault') && !unit) return 'fault';
  if (has('grid') && has('status') && !unit && !has('power') && !has('energy')) return 'gridUp';
  return null;
}

/** True of what has a unit of a state that stands for nothing known, and of parts of a flow: what solar gave the battery. */
function isOther(header: string, has: (meaning: string) => boolean, unit: FileUnit | null): boolean {
  const isState = ['°C', '°F', 'Hz', 'V', 'A'].includes(unit ?? '');
  const isPart =
    /(?:solar|pv|battery|grid)[\s_]*(?:to|→|->)[\s_]*(?:home|house|load|battery|grid)/i.test(header) ||
    /self[\s_-]*(?:consum|use)|eigenverbrauch|autoconsumo/i.test(header);
  return isState || has('temperature') || has('frequency') || has('voltage') || isPart;
}

/** A part of the load that a header names: before the word load, or an appliance. */
function partIn(
  header: string,
  words: readonly string[],
  has: (meaning: string) => boolean,
  unit: FileUnit | null,
): Role | null {
  if (has('solar') || has('battery') || has('grid') || has('import') || has('export')) return null;
  const named = /^(.+?)[\s_]+load\b/i.exec(header.trim());
  // What each of several inverters gives is the home's load together.
  const isWhole =
    ['total', 'home', 'house', 'site', 'ac', 'essential'].includes(words[0]!) ||
    /^(?:inverter|unit|wechselrichter|inv|wr)[\s_-]*\d*$/i.test(named?.[1] ?? '');
  if (named && !isWhole) return `load:${named[1]!.toLowerCase()}`;
  const isAppliance = has('appliance') || (words.includes('heat') && words.includes('pump'));
  if (!isAppliance || unit === null || !/W/.test(unit)) return null;
  return `load:${nameOfPartIn(header)}`;
}

/** What a header calls a part of load or solar: without its unit and the words for power. */
export function nameOfPartIn(header: string): string {
  let name = header.replace(/[[(].*$/, '');
  for (let before = ''; before !== name;) {
    before = name;
    name = name.replace(/[\s_]*(?:kWh|Wh|kW|W|power|leistung|energy|consumption)\s*$/i, '');
  }
  return name.trim().replaceAll('_', ' ').toLowerCase();
}

/** The flow of the home that a header names. */
function flowIn(header: string, has: (meaning: string) => boolean, unit: FileUnit | null): Role | null {
  const text = header.replaceAll('_', ' ');
  if (/\bfrom\s+(?:the\s+)?grid\b/i.test(text)) return 'import';
  if (/\b(?:to|into)\s+(?:the\s+)?grid\b/i.test(text)) return 'export';
  if (/\bfrom\s+(?:the\s+)?(?:batter|store)/i.test(text)) return 'discharge';
  if (/\b(?:to|into)\s+(?:the\s+)?(?:batter|store)/i.test(text)) return 'charge';
  // A direction written out beside grid or battery belongs to a flow that goes both ways.
  if (signIn(header) !== null && has('grid')) return 'grid';
  if (signIn(header) !== null && has('battery')) return has('dc') ? 'batteryDc' : 'battery';
  if (has('discharge') && has('charge')) return has('dc') ? 'batteryDc' : 'battery';
  if (has('import') && has('export')) return 'grid';
  if (has('discharge')) return has('dc') ? 'dischargeDc' : 'discharge';
  if (has('charge')) return has('dc') ? 'chargeDc' : 'charge';
  // Into the battery it charges; into the home the grid is imported.
  if (has('store') && has('into') !== has('out')) return has('into') ? 'charge' : 'discharge';
  if (has('grid') && !has('load') && has('into') !== has('out')) return has('into') ? 'import' : 'export';
  if (has('export')) return 'export';
  // What the home draws from the grid is import, whatever it is called.
  if (has('load') && has('grid') && !has('solar')) return 'import';
  if (has('import')) return 'import';
  const leg = /\b(?:l|leg|phase)[\s_]*([123])\b/i.exec(header);
  if (
    leg &&
    !has('grid') &&
    !has('solar') &&
    !has('battery') &&
    (has('load') || has('power') || unit === 'W' || unit === 'kW')
  )
    return `leg${leg[1]!}` as Role;
  if (has('battery')) return has('dc') ? 'batteryDc' : 'battery';
  if (has('solar')) return 'solar';
  if (has('grid') && !has('load')) return 'grid';
  if (has('load')) return 'load';
  return has('grid') ? 'grid' : null;
}

/** A direction that the header writes out: `(+import)`, `positive = charging`. */
function signIn(header: string): 1 | -1 | null {
  const text = header.toLowerCase();
  const positive = /(?:\+|positive|pos\.?)\s*=?:?\s*(import|export|charg|discharg|buy|sell|draw|feed)/.exec(
    text,
  )?.[1];
  const negative =
    /(?:[-\u2212]|negative|neg\.?)\s*=?:?\s*(import|export|charg|discharg|buy|sell|draw|feed)/.exec(
      text,
    )?.[1];
  const plus = positive ?? null;
  if (plus) return /^(import|discharg|buy|draw)/.test(plus) ? 1 : -1;
  if (negative) return /^(import|discharg|buy|draw)/.test(negative) ? -1 : 1;
  return null;
}
