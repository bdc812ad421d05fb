import { getTimes } from 'suncalc';
import { isNamed, nameOfPart } from '../../model/quantity.js';
import { offsetAt, siteTimeOf, zoneOf } from '../../time/zone.js';
import { goalCharge, hoursTo, type Ahead } from './projection.js';
import type { TrialMaterial } from './trialMaterial.js';

const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;
/** A part of the load that usually takes less, W, is not worth switching off. */
const WORTH_W = 30;
const PARTS_TOLD = 3;
/** What is asked about where no part of the load is logged by name, W. */
const EXAMPLE_W = 200;

interface Pace {
  readonly ahead: Ahead | null;
  /** Fall of the charge an hour so far, shares of full, and its half-width. */
  readonly rate: number;
  readonly rateHalf: number;
  readonly cutOff: number;
}

type Course = readonly { readonly atMs: number; readonly value: number }[];

/** From the last checkpoint of a run on: the charge at sunrise, what switching something off would add, and the days so far. */
export function runAdvice(material: TrialMaterial, course: Course, pace: Pace): string[] {
  return [
    ...atSunrise(material, course.at(-1)!, pace),
    ...switchedOff(material, course.at(-1)!, pace),
    ...byDay(material, course),
  ];
}

function percent(share: number): string {
  return `${Math.round(100 * share)} %`;
}

function atSunrise(
  { system, accuracy }: TrialMaterial,
  last: Course[number],
  { ahead, rate, rateHalf }: Pace,
): string[] {
  const { latitude, longitude, timeZone } = system;
  if (latitude === undefined || longitude === undefined) return [];
  const rises = [0, 1]
    .map((days) => getTimes(new Date(last.atMs + days * DAY_MS), latitude, longitude).sunrise)
    .find((sunrise) => sunrise && sunrise.getTime() > last.atMs);
  if (!rises) return [];
  const hours = (rises.getTime() - last.atMs) / HOUR_MS;
  const { value, low, high } = goalCharge(ahead, last, rate, rateHalf, hours, accuracy.soc);
  return [
    `At sunrise, ${siteTimeOf(zoneOf(timeZone), rises.getTime())}, the charge would be ${percent(value)} (${percent(low)} to ${percent(high)}).`,
  ];
}

/** Hours that the rest would last longer without a part of the load: those logged by name, else so many watts. */
function switchedOff(material: TrialMaterial, last: Course[number], pace: Pace): string[] {
  const { usableWh } = material.configuration;
  const { ahead, rate, rateHalf, cutOff } = pace;
  const left = last.value - cutOff;
  const now = hoursTo(ahead, last, rate, rateHalf, left);
  if (usableWh === null || !now || now.value <= 0 || left <= 0) return [];
  const parts = usualParts(material, last.atMs).slice(0, PARTS_TOLD);
  const asked = parts.length > 0 ? parts : [{ name: null, watts: EXAMPLE_W }];
  return asked.flatMap(({ name, watts }) => {
    // Where the run so far took less than usual, its parts did too.
    const without = left / now.value - (watts * Math.min(1, ahead?.scale ?? 1)) / usableWh;
    // What takes more than falls leaves nothing to reckon with.
    if (without <= 0.1 * (left / now.value)) return [];
    const more = left / without - now.value;
    return [
      name === null
        ? `${watts} W less would make it last about ${more.toFixed(1)} h longer.`
        : `Without ${name}, usually ${Math.round(watts)} W in these hours, it would last about ${more.toFixed(1)} h longer.`,
    ];
  });
}

/** Parts of the load that are logged by name, by what they usually take in the half day ahead. */
function usualParts(
  { log, system }: TrialMaterial,
  fromMs: number,
): { readonly name: string; readonly watts: number }[] {
  if (!log) return [];
  const zone = zoneOf(system.timeZone);
  const hourAt = (ms: number) => new Date(ms + offsetAt(zone, ms)).getUTCHours();
  const ahead = new Set(Array.from({ length: 12 }, (_, k) => (hourAt(fromMs) + k) % 24));
  return [...log.channels]
    .flatMap(([quantity, { values }]) => {
      if (!isNamed(quantity)) return [];
      let [sum, count] = [0, 0];
      for (let i = 0; i < log.count; i++) {
        const ms = log.startMs + i * log.stepMs;
        if (ms >= fromMs) break;
        if (values[i] !== values[i] || !ahead.has(hourAt(ms))) continue;
        sum += values[i]!;
        count++;
      }
      return count > 0 && sum / count >= WORTH_W ? [{ name: nameOfPart(quantity), watts: sum / count }] : [];
    })
    .sort((a, b) => b.watts - a.watts);
}

/** Of a run over more than a day: what each took of the charge. */
function byDay({ system }: TrialMaterial, course: Course): string[] {
  const [first, last] = [course[0]!, course.at(-1)!];
  if (last.atMs - first.atMs <= DAY_MS) return [];
  const zone = zoneOf(system.timeZone);
  const days = new Map<string, { first: number; last: number }>();
  let before = first.value;
  for (const { atMs, value } of course) {
    const date = siteTimeOf(zone, atMs).slice(0, 10);
    const own = days.get(date);
    if (own) own.last = value;
    else days.set(date, { first: before, last: value });
    before = value;
  }
  return [
    `Day by day: ${[...days].map(([date, own]) => `${date} ${percent(own.first)} → ${percent(own.last)}`).join(', ')}.`,
  ];
}
