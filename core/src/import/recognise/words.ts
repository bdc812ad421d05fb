import type { FileUnit, Kind, Role } from '../read/mapping.js';
import { INSTANT_QUANTITIES } from '../../model/quantity.js';

/** What a header word hints at. Every hint may be wrong: the data decide. */
export interface Hint {
  readonly role: Role | null;
  readonly unit: FileUnit | null;
  readonly kind: Kind | null;
  /** The direction that the header calls positive, where it says so. */
  readonly sign: 1 | -1 | null;
  readonly sample: 'mean' | 'instant' | null;
}

/** Words by what they mean, in the languages of the places where logs come from; folded to plain letters. */
const WORDS: Readonly<Record<string, readonly string[]>> = {
  solar: [
    'solar',
    'pv',
    'ppv',
    'photovoltaic',
    'panel',
    'panels',
    'production',
    'produced',
    'generation',
    'generated',
    'yield',
    'fotovoltaico',
    'fotovoltaica',
    'fv',
    'mppt',
    'erzeugung',
    'producao',
    'produccion',
    'produzione',
    'proizvodnja',
    'sun',
    'sonce',
  ],
  load: [
    'load',
    'loads',
    'consumption',
    'consumed',
    'house',
    'home',
    'household',
    'usage',
    'use',
    'demand',
    'verbrauch',
    'hausverbrauch',
    'consumo',
    'consumi',
    'poraba',
    'consommation',
    'site',
    'casa',
    'essential',
  ],
  import: [
    'import',
    'imported',
    'imports',
    'purchased',
    'purchase',
    'bought',
    'buy',
    'bezug',
    'netzbezug',
    'prelievo',
    'importacao',
    'importada',
    'received',
    'draw',
    'drawn',
    'odjem',
    'soutirage',
  ],
  export: [
    'export',
    'exported',
    'exports',
    'feedin',
    'fed',
    'sold',
    'sell',
    'einspeisung',
    'netzeinspeisung',
    'injetada',
    'injecao',
    'immissione',
    'exportacao',
    'exportada',
    'injection',
    'oddaja',
    'surplus',
  ],
  grid: ['grid', 'utility', 'mains', 'netz', 'rede', 'rete', 'reseau', 'net', 'omrezje'],
  charge: ['charge', 'charged', 'charging', 'laden', 'ladung', 'polnjenje', 'caricamento', 'carregamento'],
  discharge: [
    'discharge',
    'discharged',
    'discharging',
    'entladen',
    'entladung',
    'praznjenje',
    'scarica',
    'descarga',
    'descarregamento',
  ],
  battery: [
    'battery',
    'batt',
    'bat',
    'bms',
    'storage',
    'akku',
    'batterie',
    'speicher',
    'bateria',
    'batteria',
    'baterija',
    'baterije',
    'accu',
    'pack',
    'bank',
    'shunt',
  ],
  soc: ['soc', 'ladezustand', 'fullstand', 'napolnjenost'],
  temperature: ['temperature', 'temp', 'temperatur', 'temperatura', 'celsius'],
  outdoor: ['outdoor', 'outside', 'ambient', 'external', 'weather', 'exterior', 'aussen', 'zunaj'],
  inverter: ['inverter', 'heatsink', 'wechselrichter', 'cpu', 'board', 'inversor'],
  voltage: ['voltage', 'volt', 'volts', 'spannung', 'tensao', 'tensione', 'napetost'],
  current: ['current', 'amps', 'amp', 'ampere', 'strom', 'corrente', 'tok'],
  frequency: ['frequency', 'freq', 'frequenz', 'frequencia', 'frequenza'],
  dc: ['dc'],
  status: ['status', 'state', 'up', 'available', 'present', 'on', 'online'],
  fault: ['fault', 'error', 'alarm', 'fehler'],
  total: [
    'total',
    'cumulative',
    'lifetime',
    'counter',
    'reading',
    'meter',
    'index',
    'zahlerstand',
    'zahler',
    'contador',
    'leitura',
    'register',
    'odometer',
  ],
  daily: ['daily', 'today', 'day', 'tages', 'diaria', 'diario', 'giornaliera'],
  energy: ['energy', 'energie', 'energia'],
  power: ['power', 'leistung', 'potencia', 'potenza', 'moc', 'watts', 'watt'],
  instant: ['instant', 'instantaneous', 'sample', 'spot', 'momentary', 'current'],
  average: ['average', 'avg', 'mean', 'mittel', 'media'],
};

const UNIT_WORDS: readonly (readonly [RegExp, FileUnit])[] = [
  [/^mwh$/i, 'MWh'],
  [/^kwh$/i, 'kWh'],
  [/^wh$/i, 'Wh'],
  [/^mw$/i, 'MW'],
  [/^kw$/i, 'kW'],
  [/^w$/i, 'W'],
  [/^(?:%|pct|percent|prozent)$/i, '%'],
  [/^(?:v|volts?)$/i, 'V'],
  [/^(?:a|amps?)$/i, 'A'],
  [/^hz$/i, 'Hz'],
  [/^(?:°\s?c|degc|celsius|c)$/i, '°C'],
  [/^(?:°\s?f|degf|fahrenheit|f)$/i, '°F'],
];

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
  return null;
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
  if (has('soc') || (has('battery') && unit === '%')) return 'soc';
  if (has('temperature') || unit === '°C' || unit === '°F')
    return has('battery') ? 'batteryTemp' : has('outdoor') ? 'outdoorTemp' : null;
  if (has('frequency') || unit === 'Hz') return has('battery') ? null : 'gridHz';
  if (has('voltage') || unit === 'V') return has('battery') ? 'batteryV' : has('grid') ? 'gridV' : null;
  if (unit === 'A' || (has('current') && has('battery') && unit === null))
    return has('battery') ? 'batteryA' : null;
  if (has('fault') && !unit) return 'fault';
  if (has('grid') && has('status') && !unit && !has('power') && !has('energy')) return 'gridUp';
  const named = /^(.+?)[\s_]+load\b/i.exec(header.trim());
  if (
    named &&
    !has('solar') &&
    !has('battery') &&
    !has('grid') &&
    !['total', 'home', 'house', 'site', 'ac', 'essential'].some((word) => words[0] === word)
  )
    return `load:${named[1]!.toLowerCase()}`;
  // A part of a flow, as what solar gave the battery, stands for none of them.
  if (/(?:solar|pv|battery|grid)\s*(?:to|→|->)\s*(?:home|house|load|battery|grid)/i.test(header)) return null;
  if (/\bfrom\s+(?:the\s+)?grid\b/i.test(header)) return 'import';
  if (/\b(?:to|into)\s+(?:the\s+)?grid\b/i.test(header)) return 'export';
  if (/\bfrom\s+(?:the\s+)?batter/i.test(header)) return 'discharge';
  if (/\b(?:to|into)\s+(?:the\s+)?batter/i.test(header)) return 'charge';
  // A direction written out beside grid or battery belongs to a flow that goes both ways.
  if (signIn(header) !== null && has('grid')) return 'grid';
  if (signIn(header) !== null && has('battery')) return has('dc') ? 'batteryDc' : 'battery';
  if (has('discharge') && has('charge')) return has('dc') ? 'batteryDc' : 'battery';
  if (has('import') && has('export')) return 'grid';
  if (has('discharge')) return has('dc') ? 'dischargeDc' : 'discharge';
  if (has('charge')) return has('dc') ? 'chargeDc' : 'charge';
  if (has('export')) return 'export';
  // What the home draws from the grid is import, whatever it is called.
  if (has('load') && has('grid') && !has('solar')) return 'import';
  if (has('import')) return 'import';
  const leg = /\b(?:l|leg|phase)[\s_]*([123])\b/i.exec(header);
  if (leg && (has('load') || unit === 'W' || unit === 'kW')) return `leg${leg[1]!}` as Role;
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
