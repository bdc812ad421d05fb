import type { System } from '../../system/schema.js';
import { instantOfLocal, offsetAt, zoneOf } from '../../time/zone.js';
import type { Guess } from './guess.js';
import type { Conclusion } from './conclusion.js';
import type { Sample } from './sample.js';
import { correlation } from '../../statistics/correlation.js';
import { solarNoonUtc } from '../../time/solarNoon.js';
import { stepOf, type TimeColumn } from './timeColumn.js';

const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;
const BILL_MS = 20 * DAY_MS;
/** Light begins and ends at so much of the highest value. */
const LIGHT_SHARE = 0.01;
/** Hills and trees move the middle of the light by an hour or so; more is another clock. */
const NOON_TOLERANCE_H = 2.6;
/** By so much the sun must speak for UTC before the site's own clock is doubted. */
const CLEARLY_BETTER_H = 0.5;
/** Without a longitude the zone's own noon is all there is, up to two hours off. */
const LOOSE_TOLERANCE_H = 4;

/** Which clock the times are of: their own offsets, the site's zone, or UTC where the sun speaks for it. */
export function zoneConclusion(
  time: TimeColumn,
  sample: Sample,
  guesses: readonly Guess[],
  system: System,
): { zone: string; conclusion: Conclusion } {
  const about = 'time.zone';
  const one = (zone: string, says: string, evidence: string, confidence: number) => ({
    zone,
    conclusion: { about, says, evidence: [evidence], confidence, alternatives: [], asks: false },
  });
  if (time.zoned)
    return one('offset', 'each time carries its own offset from UTC', 'it is written behind every time', 1);
  const site = system.timeZone;
  const header = time.fields.map((field) => sample.names[field]!).join(' ');
  if (/\b(utc|gmt|zulu)\b/i.test(header))
    return one('UTC', 'the clock is UTC', `the column is called "${header}"`, 0.95);
  const noon = solarMiddle(sample, guesses, time);
  const choices = ['UTC', site].map((zone) => ({
    zone,
    off: noon === null ? null : hoursOff(noon, zone, system),
  }));
  const atSite = choices[1]!.off;
  const atUtc = choices[0]!.off;
  const tolerance = system.longitude === undefined ? LOOSE_TOLERANCE_H : NOON_TOLERANCE_H;
  const alternative = (zone: string, says: string) => [{ says, set: { 'time.zone': zone } }];
  if (atSite === null || atUtc === null) {
    return {
      zone: site,
      conclusion: {
        about,
        says: `the clock is that of the site, ${site}`,
        evidence: ['no offset is written, and no solar column tells the hour of the sun'],
        confidence: 0.7,
        alternatives: alternative('UTC', 'the clock is UTC'),
        asks: false,
      },
    };
  }
  const text = (hours: number) => `${Math.abs(hours).toFixed(1)} h ${hours < 0 ? 'before' : 'after'}`;
  const said = (zone: string, off: number) =>
    `read in ${zone}, the middle of the solar day lies ${text(off)} the sun's highest point`;
  if (Math.abs(atSite) <= tolerance) {
    const asks = Math.abs(atUtc) + CLEARLY_BETTER_H < Math.abs(atSite);
    return {
      zone: site,
      conclusion: {
        about,
        says: `the clock is that of the site, ${site}`,
        evidence: [said(site, atSite), ...(asks ? [`${said('UTC', atUtc)}: both are possible`] : [])],
        confidence: asks ? 0.5 : Math.abs(atUtc) <= tolerance ? 0.8 : 0.96,
        alternatives: Math.abs(atUtc) <= tolerance ? alternative('UTC', 'the clock is UTC') : [],
        asks,
      },
    };
  }
  if (Math.abs(atUtc) <= tolerance) {
    return {
      zone: 'UTC',
      conclusion: {
        about,
        says: 'the clock is UTC',
        evidence: [said('UTC', atUtc), said(site, atSite)],
        confidence: 0.9,
        alternatives: alternative(site, `the clock is that of the site, ${site}`),
        asks: false,
      },
    };
  }
  // Neither clock puts the sun where it belongs: the nearest whole hour does.
  const shift = Math.round(atSite);
  const at = instantOfLocal(zoneOf(site), noon!.dayMs);
  const fixed = offsetText(offsetAt(zoneOf(site), at) + shift * 3_600_000);
  return {
    zone: fixed,
    conclusion: {
      about,
      says: `the logger's clock runs at UTC${fixed}`,
      evidence: [said(site, atSite), said('UTC', atUtc)],
      confidence: 0.5,
      alternatives: [
        ...alternative(site, `the clock is that of the site, ${site}`),
        ...alternative('UTC', 'the clock is UTC'),
      ],
      asks: true,
    },
  };
}

/**
 * The middle of the light in the day: a day of the sample and the hour by the clock as it is written. First and last light
 * count, not the energy between them: an afternoon in which the battery is full holds the panels back.
 */
function solarMiddle(
  sample: Sample,
  guesses: readonly Guess[],
  time: TimeColumn,
): { dayMs: number; hour: number } | null {
  const solar = guesses.find(
    ({ role, kind }) => /^solar(?::|$)/.test(role) && (kind === 'power' || kind === 'energy'),
  );
  if (!solar || stepOf(time.readings) > 2 * HOUR_MS) return null;
  const values = sample.numbers[solar.field]!;
  let [east, north, total, top] = [0, 0, 0, 0];
  time.readings.forEach((ms, i) => {
    const value = Math.abs(values[i]!);
    if (Number.isNaN(ms) || Number.isNaN(value)) return;
    const angle = (2 * Math.PI * (ms % DAY_MS)) / DAY_MS;
    east += value * Math.sin(angle);
    north += value * Math.cos(angle);
    total += value;
    top = Math.max(top, value);
  });
  const readings = time.readings.filter((ms) => !Number.isNaN(ms));
  // A course without a night in it, or hardly any sun, has no middle.
  if (total === 0 || Math.abs(readings.at(-1)! - readings[0]!) < 0.9 * DAY_MS) return null;
  if (Math.hypot(east, north) < 0.3 * total) return null;
  const about = ((Math.atan2(east, north) / (2 * Math.PI) + 1) % 1) * DAY_MS;
  const light = new Map<number, { first: number; last: number }>();
  time.readings.forEach((ms, i) => {
    if (!(Math.abs(values[i]!) > LIGHT_SHARE * top)) return;
    // Days from twelve hours before the middle to twelve hours after it.
    const day = Math.floor((ms - about + DAY_MS / 2) / DAY_MS);
    const known = light.get(day) ?? { first: ms, last: ms };
    light.set(day, { first: Math.min(known.first, ms), last: Math.max(known.last, ms) });
  });
  const hours = [...light]
    .filter(([, { first, last }]) => last - first > 4 * HOUR_MS)
    .map(([day, { first, last }]) => ((first + last + stepOf(time.readings)) / 2 - day * DAY_MS) / HOUR_MS)
    .sort((a, b) => a - b);
  if (hours.length === 0) return null;
  const hour = hours[Math.floor(hours.length / 2)]!;
  return { dayMs: readings[Math.floor(readings.length / 2)]!, hour: ((hour % 24) + 24) % 24 };
}

/** Hours by which the middle of the solar day lies behind the sun's highest point, if the clock is that of a zone. */
function hoursOff({ dayMs, hour }: { dayMs: number; hour: number }, zone: string, system: System): number {
  const clock = zoneOf(zone);
  const offsetH = offsetAt(clock, instantOfLocal(clock, dayMs)) / 3_600_000;
  const site = zoneOf(system.timeZone);
  // Where the place is not described, its longitude is that of its zone's winter time.
  const longitude =
    system.longitude ??
    15 * (Math.min(offsetAt(site, Date.UTC(2024, 0, 15)), offsetAt(site, Date.UTC(2024, 6, 15))) / 3_600_000);
  const off = hour - offsetH - solarNoonUtc(dayMs, longitude);
  return ((((off + 12) % 24) + 24) % 24) - 12;
}

function offsetText(ms: number): string {
  const minutes = Math.round(Math.abs(ms) / 60_000);
  const two = (n: number) => String(n).padStart(2, '0');
  return `${ms < 0 ? '-' : '+'}${two(Math.floor(minutes / 60))}:${two(minutes % 60)}`;
}

/** Whether a time marks the start or the end of its interval: by its name, by the state of charge, by the day's first row. */
export function marksConclusion(
  time: TimeColumn,
  sample: Sample,
  guesses: readonly Guess[],
): { marks: 'start' | 'end'; conclusion: Conclusion } {
  const name = time.fields.map((field) => sample.names[field]!).join(' ');
  const result = (marks: 'start' | 'end', evidence: string, confidence: number) => ({
    marks,
    conclusion: {
      about: 'time.marks',
      says: `each time is the ${marks} of its interval`,
      evidence: [evidence],
      confidence,
      alternatives: [
        {
          says: `each time is the ${marks === 'start' ? 'end' : 'start'} of its interval`,
          set: { 'time.marks': marks === 'start' ? 'end' : 'start' },
        },
      ],
      asks: false,
    },
  });
  if (/\b(end|ending|until|bis|fim|fine|konec)\b/i.test(name))
    return result('end', `the column is called "${name}"`, 0.95);
  if (/\b(start|begin|from|von|inicio|inizio)\b/i.test(name))
    return result('start', `the column is called "${name}"`, 0.95);
  if (areBills(time, guesses)) {
    const asked = result(
      'end',
      'rows about a month apart may be the days on which their periods end or begin',
      0.5,
    );
    return { ...asked, conclusion: { ...asked.conclusion, asks: true } };
  }
  const bySoc = lagOfSoc(sample, guesses);
  if (bySoc) {
    const says = `the state of charge moves with the battery's power of ${bySoc.marks === 'start' ? 'its own' : 'the next'} row (correlation ${bySoc.best.toFixed(2)} against ${bySoc.other.toFixed(2)})`;
    return result(bySoc.marks, says, 0.85);
  }
  const byDay = firstRowOfDays(time.readings);
  if (byDay) return result('end', 'each day begins one step after midnight and ends at it', 0.8);
  return result('start', 'nothing suggests the end; a wrong choice moves everything by one step', 0.6);
}

/** True of energies some weeks apart whose dates are not the first of months: those of bills. */
function areBills({ readings }: TimeColumn, guesses: readonly Guess[]): boolean {
  const known = readings.filter((ms) => !Number.isNaN(ms));
  return (
    known.length > 1 &&
    stepOf(known) >= BILL_MS &&
    guesses.some(({ kind }) => kind === 'energy') &&
    !known.every((ms) => new Date(ms).getUTCDate() === 1)
  );
}

/** Which row's battery power moves the state of charge; null when both do about as well. */
function lagOfSoc(
  sample: Sample,
  guesses: readonly Guess[],
): { marks: 'start' | 'end'; best: number; other: number } | null {
  const soc = guesses.find(({ role }) => role === 'soc');
  const battery = guesses.find(
    ({ role, kind }) => (role === 'battery' || role === 'batteryDc') && kind !== 'counter',
  );
  if (!soc || !battery) return null;
  const s = sample.numbers[soc.field]!;
  const b = sample.numbers[battery.field]!;
  const changes = s.map((value, i) => (s[i + 1] ?? NaN) - value);
  const start = Math.abs(correlation(changes, b));
  const end = Math.abs(correlation(changes.slice(0, -1), b, 1));
  if (s.length < 300 || Math.abs(start - end) < 0.05 || Math.max(start, end) < 0.4) return null;
  return start > end
    ? { marks: 'start', best: start, other: end }
    : { marks: 'end', best: end, other: start };
}

/** True when the file's first row stands one step behind midnight and its last at midnight, as whole days labelled at the end do. */
function firstRowOfDays(readings: Float64Array): boolean {
  const sorted = readings.filter((ms) => !Number.isNaN(ms)).sort();
  if (sorted.length < 20) return false;
  const step = sorted[1]! - sorted[0]!;
  return step < 3_600_000 * 2 && sorted[0]! % 86_400_000 === step && sorted.at(-1)! % 86_400_000 === 0;
}
