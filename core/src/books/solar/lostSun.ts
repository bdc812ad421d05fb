import type { RangeData } from '../../passes/rangeData.js';
import { channelOf } from '../../passes/rangeData.js';
import { configurationAt } from '../../system/configuration.js';
import type { System } from '../../system/schema.js';
import { offsetAt, zoneOf } from '../../time/zone.js';
import { clearSky } from './clearSky.js';
import { inverterEfficiency } from '../shared/inverterEfficiency.js';
import { limitedSun, LIMITS, type LimitedSun, type SunLimit } from './limitedSun.js';
import { unlimitedSun, type UnlimitedSun } from './unlimitedSun.js';

const DAY_MS = 86_400_000;
const SLOT_MS = 15 * 60_000;
/** A model of the sky is not held to be nearer than this. */
const LEAST_BIAS = 0.03;
/** Nor, where no free day tried it, than this. */
const UNTRIED_BIAS = 0.12;
/** Hours for which nothing tells may be so large a part of all. */
const MOST_UNTOLD = 0.3;
/** A slot of which less than this share is known in freedom says nothing of it. */
const FREE_SHARE = 0.6;

/** An energy that was not made, Wh, with its interval, and the hours it took. */
export interface LostEnergy {
  readonly wh: number;
  readonly low: number;
  readonly high: number;
  readonly hours: number;
}

/** Solar that was not made in a range. */
export interface LostSun {
  readonly limited: LimitedSun;
  /** What the sun would have given in each cell of the range, W: as made where it was free; NaN where not known. */
  readonly rebuilt: Float64Array;
  /** Null where too many of the hours cannot be told. */
  readonly clipped: LostEnergy | null;
  readonly heldBack: LostEnergy | null;
  /** By month of the site's calendar and cause, Wh and hours. */
  readonly months: readonly {
    readonly month: string;
    readonly causes: Readonly<Partial<Record<SunLimit, LostEnergy>>>;
  }[];
  readonly bias: number;
  readonly deviation: number;
}

const made = new WeakMap<RangeData, LostSun | null>();

/** What solar lost in a range; null where solar is not logged. Reckoned once for a range. */
export function lostSun(data: RangeData, system: System): LostSun | null {
  const known = made.get(data);
  if (known !== undefined) return known;
  const lost = reckoned(data, system);
  made.set(data, lost);
  return lost;
}

function reckoned(data: RangeData, system: System): LostSun | null {
  const { log, range, configurations, outages } = data;
  const solar = channelOf(data, 'solar')?.values;
  if (!solar) return null;
  const limited = limitedSun(log, configurations, outages, range, inverterEfficiency(data));
  const { codes, fromCell } = limited;
  const slotMs = Math.max(SLOT_MS, log.stepMs);
  const slots = Math.round(DAY_MS / slotMs);
  const hours = log.stepMs / 3_600_000;
  // Standard time throughout: the sun keeps no daylight saving.
  const zone = zoneOf(log.zone);
  const year = new Date(range.fromMs).getUTCFullYear();
  const offset = Math.min(offsetAt(zone, Date.UTC(year, 0, 1)), offsetAt(zone, Date.UTC(year, 6, 1)));
  const firstDay = Math.floor((log.startMs + fromCell * log.stepMs + offset) / DAY_MS);
  const lastDay = Math.floor((log.startMs + (fromCell + codes.length - 1) * log.stepMs + offset) / DAY_MS);
  const days = Math.max(0, lastDay - firstDay + 1);
  const size = days * slots;
  const [sum, known] = [new Float64Array(size), new Float64Array(size)];
  const [limitedWh, limitedH] = [new Float64Array(size), new Float64Array(size)];
  const cause = new Uint8Array(size);
  const slotAt = (k: number) => {
    const ms = log.startMs + (fromCell + k) * log.stepMs + offset;
    const day = Math.floor(ms / DAY_MS);
    return (day - firstDay) * slots + Math.min(slots - 1, Math.floor((ms - day * DAY_MS) / slotMs));
  };
  // Where a cell lies is worked out once a slot, not once a cell.
  let at = 0;
  let slotEnd = 0;
  for (let k = 0; k < codes.length; k++) {
    if (k >= slotEnd) {
      at = slotAt(k);
      const [day, slot] = [firstDay + Math.floor(at / slots), at % slots];
      const endMs = day * DAY_MS + (slot === slots - 1 ? DAY_MS : (slot + 1) * slotMs) - offset;
      slotEnd = Math.ceil((endMs - log.startMs) / log.stepMs) - fromCell;
    }
    const value = solar[fromCell + k]!;
    if (value !== value) continue;
    if (codes[k] === 0) {
      sum[at]! += value;
      known[at]!++;
    } else {
      limitedWh[at]! += value * hours;
      limitedH[at]! += hours;
      cause[at] = codes[k]!;
    }
  }
  const cells = slotMs / log.stepMs;
  const free = sum.map((watts, at) =>
    limitedH[at] === 0 && known[at]! >= FREE_SHARE * cells ? watts / known[at]! : NaN,
  );
  const sun = unlimitedSun({
    days,
    slots,
    slotH: slotMs / 3_600_000,
    free,
    limited: Uint8Array.from(limitedH, (h) => (h > 0 ? 1 : 0)),
    skies: skyTables(data, system, days, slots, firstDay * DAY_MS - offset, slotMs),
  });
  const groups = new Map<string, Map<SunLimit, Tally>>();
  const totals = { clipped: tally(), heldBack: tally() };
  for (let day = 0; day < days; day++) {
    const month = new Date((firstDay + day) * DAY_MS).toISOString().slice(0, 7);
    const own = new Map<SunLimit, { could: number; did: number; hours: number; untoldH: number }>();
    for (let at = day * slots; at < (day + 1) * slots; at++) {
      if (limitedH[at] === 0) continue;
      const limit = LIMITS[cause[at]!]!;
      const one = own.get(limit) ?? { could: 0, did: 0, hours: 0, untoldH: 0 };
      own.set(limit, one);
      one.hours += limitedH[at]!;
      const watts = sun.watts[at]!;
      if (watts !== watts) one.untoldH += limitedH[at]!;
      else {
        // At a limit of power the sun gives at least that.
        one.could +=
          limit === 'clipped' ? Math.max(watts * limitedH[at]!, limitedWh[at]!) : watts * limitedH[at]!;
        one.did += limitedWh[at]!;
      }
    }
    for (const [limit, one] of own) {
      const into = [totals[limit === 'clipped' ? 'clipped' : 'heldBack']];
      const causes = groups.get(month) ?? new Map<SunLimit, Tally>();
      groups.set(month, causes);
      let monthly = causes.get(limit);
      if (!monthly) causes.set(limit, (monthly = tally()));
      into.push(monthly);
      for (const each of into) {
        each.wh += Math.max(0, one.could - one.did);
        each.could += one.could;
        each.squares += one.could ** 2;
        each.hours += one.hours;
        each.untoldH += one.untoldH;
      }
    }
  }
  const rebuilt = solar.slice(fromCell, fromCell + codes.length);
  for (let k = 0; k < codes.length; k++) {
    if (codes[k] === 0) continue;
    const at = slotAt(k);
    if (sun.watts[at]! > rebuilt[k]!) rebuilt[k] = sun.watts[at]!;
  }
  const energyOf = (of: Tally) => told(of, sun, data.accuracy.solar);
  return {
    limited,
    rebuilt,
    clipped: energyOf(totals.clipped),
    heldBack: energyOf(totals.heldBack),
    months: [...groups].map(([month, causes]) => ({
      month,
      causes: Object.fromEntries(
        [...causes].flatMap(([limit, of]) => {
          const energy = energyOf(of);
          return energy ? [[limit, energy]] : [];
        }),
      ),
    })),
    bias: sun.bias,
    deviation: sun.deviation,
  };
}

interface Tally {
  wh: number;
  could: number;
  squares: number;
  hours: number;
  untoldH: number;
}

const tally = (): Tally => ({ wh: 0, could: 0, squares: 0, hours: 0, untoldH: 0 });

/** Days err by themselves, the model of the sky all along; null where too many hours cannot be told. */
function told(
  { wh, could, squares, hours, untoldH }: Tally,
  { bias, deviation, isTried }: UnlimitedSun,
  gain: number,
): LostEnergy | null {
  if (untoldH > MOST_UNTOLD * hours) return null;
  const more = hours > untoldH ? hours / (hours - untoldH) : 1;
  const value = wh * more;
  const half = Math.hypot(
    1.96 * deviation * Math.sqrt(squares),
    ((isTried ? LEAST_BIAS : UNTRIED_BIAS) + Math.abs(bias) / 2) * could,
    gain * wh,
    value - wh,
  );
  return { wh: value, low: Math.max(0, value - half), high: value + half, hours };
}

/** Hours of light that are taken where the place is not described. */
const DAYLIGHT_H = 12;

/** What a clear sky gives in each slot, in more than one way: by the place and the arrays, else a round arch. */
function skyTables(
  { configurations, range }: RangeData,
  { latitude, longitude }: System,
  days: number,
  slots: number,
  startMs: number,
  slotMs: number,
): Float64Array[] {
  const arrays = configurationAt(configurations, range.toMs - 1).described?.arrays ?? [];
  if (latitude === undefined || longitude === undefined)
    return [
      Float64Array.from({ length: days * slots }, (_, at) => {
        const hour = ((at % slots) + 0.5) * (24 / slots);
        return Math.max(0, Math.sin((Math.PI * (hour - 12 + DAYLIGHT_H / 2)) / DAYLIGHT_H));
      }),
    ];
  const [planes, skies] = [new Float64Array(days * slots), new Float64Array(days * slots)];
  for (let at = 0; at < planes.length; at++) {
    const ms = startMs + Math.floor(at / slots) * DAY_MS + (at % slots) * slotMs + slotMs / 2;
    const { plane, sky } = clearSky({ latitude, longitude, arrays }, ms);
    planes[at] = plane;
    skies[at] = sky;
  }
  return [planes, skies];
}
