import type { DayRange, RollDay } from '@long-tally/core';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useLocation, useNavigation, useSearchParams } from 'react-router';
import { dateText } from './format.js';
import { choose, holds, settled, type RangeChoice } from './rangeChoice.js';

/** A choice is written into the address when its figures have had the time to be drawn: the browser takes 5 ms for it. */
const WRITTEN_MS = 60;

/** The router is told of a choice when no other has followed for so long: it draws everything below it anew. */
const SETTLED_MS = 250;

/** What a view opens on while no range is chosen: the last month, or all there is where a month says little. */
export type OpensOn = 'last month' | 'all';

/**
 * The selected range. It stands in the address as two dates, so that a link or a reload leads to the same figures;
 * without them, or with dates the roll does not have, a view takes what it opens on. A choice holds at once; the
 * address follows when it is drawn, the router when it has settled, and the router leads again as soon as it says
 * something else.
 */
export function useRange(
  days: readonly RollDay[],
  opensOn: OpensOn = 'last month',
): [DayRange, (range: DayRange) => void] {
  const [params, setParams] = useSearchParams();
  const [choice, setChoice] = useState<RangeChoice | null>(null);
  const from = params.get('from');
  const to = params.get('to');
  const address = `${from} ${to}`;
  const addressed = useMemo(() => rangeOf(days, from, to, opensOn), [days, from, to, opensOn]);
  const datesOf = (range: DayRange) => [days[range.from]!.date, days[range.to]!.date] as const;
  if (choice && settled(choice, address)) setChoice({ ...choice, over: [] });
  const pending = useRef<readonly number[]>([]);
  const letGo = () => pending.current.forEach((timer) => window.clearTimeout(timer));
  useEffect(() => letGo, []);
  // A reader on the way to another view is not called back by a choice that settles meanwhile.
  const goingTo = useNavigation().location?.pathname;
  const { pathname } = useLocation();
  useEffect(() => {
    if (goingTo !== undefined && goingTo !== pathname) letGo();
  }, [goingTo, pathname]);
  const select = (range: DayRange) => {
    const [first, last] = datesOf(range);
    const next = choose(choice, range, `${first} ${last}`, address);
    setChoice(next);
    const changed = new URLSearchParams(window.location.search);
    changed.set('from', first);
    changed.set('to', last);
    letGo();
    pending.current = [
      window.setTimeout(
        () => window.history.replaceState(window.history.state, '', `?${changed}`),
        WRITTEN_MS,
      ),
      window.setTimeout(() => {
        setChoice({ ...next, told: true });
        setParams(changed, { replace: true });
      }, SETTLED_MS),
    ];
  };
  return [choice && holds(choice, address) ? choice.range : addressed, select];
}

/** Indices of two dates, in either order, held to the roll. */
export function rangeOf(
  days: readonly RollDay[],
  from: string | null,
  to: string | null,
  opensOn: OpensOn = 'last month',
): DayRange {
  const opened = opensOn === 'all' ? { from: 0, to: days.length - 1 } : lastMonth(days);
  const isDate = (text: string | null): text is string => text !== null && /^\d{4}-\d\d-\d\d$/.test(text);
  if (!isDate(from) || !isDate(to)) return opened;
  const [first, last] = from <= to ? [from, to] : [to, from];
  const start = days.findIndex(({ date }) => date >= first);
  const end = days.findLastIndex(({ date }) => date <= last);
  return start < 0 || end < start ? opened : { from: start, to: end };
}

function lastMonth(days: readonly RollDay[]): DayRange {
  const last = days.findLastIndex(({ coverage }) => coverage > 0.5);
  return monthOf(days, Math.max(0, last));
}

/** The days of the roll in the month of a day. */
export function monthOf(days: readonly RollDay[], index: number): DayRange {
  return sharing(days, index, 7);
}

/** The days of the roll in the year of a day. */
export function yearOf(days: readonly RollDay[], index: number): DayRange {
  return sharing(days, index, 4);
}

function sharing(days: readonly RollDay[], index: number, letters: number): DayRange {
  const prefix = days[index]!.date.slice(0, letters);
  return {
    from: days.findIndex(({ date }) => date.startsWith(prefix)),
    to: days.findLastIndex(({ date }) => date.startsWith(prefix)),
  };
}

/** The range before (-1) or after (1): the neighbouring month or year for whole ones, else as many days. */
export function neighbour(days: readonly RollDay[], range: DayRange, direction: -1 | 1): DayRange {
  const whole = [monthOf, yearOf].find((unit) => {
    const { from, to } = unit(days, range.from);
    return from === range.from && to === range.to;
  });
  const beside = direction < 0 ? range.from - 1 : range.to + 1;
  if (beside < 0 || beside >= days.length) return range;
  if (whole) return whole(days, beside);
  const length = range.to - range.from;
  return direction < 0
    ? { from: Math.max(0, beside - length), to: beside }
    : { from: beside, to: Math.min(days.length - 1, beside + length) };
}

/** What a range is called: a month, a year, a day, or from a day to a day. */
export function rangeTitle(days: readonly RollDay[], range: DayRange): string {
  const [first, last] = [days[range.from]!.date, days[range.to]!.date];
  if (range.from === range.to) return dateText(first, 'long');
  const is = ({ from, to }: DayRange) => from === range.from && to === range.to;
  if (is(monthOf(days, range.from))) return dateText(first, 'month');
  if (is(yearOf(days, range.from))) return first.slice(0, 4);
  return `${dateText(first, 'plain')} – ${dateText(last, 'plain')}`;
}
