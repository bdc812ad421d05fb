/** How long what-ifs take: a year and three at 5 minutes, ten years by the minute; an invented home, in this process. */
import {
  changeAt,
  endMs,
  prepare,
  report,
  scenarioRunner,
  type Quantity,
  type SourceLog,
  type System,
} from '@long-tally/core';
import { BENCH_HOME } from './benchHome.js';

const SYSTEM: System = {
  ...BENCH_HOME,
  tariffs: [{ from: '2014-01-01', import: [{ rate: 0.3 }], export: [{ rate: 0.1 }] }],
};
const SWEPT = 40;
/** A scenario is run so often before it is timed, as by somebody who tries one after the other … */
const WARM_UPS = 15;
/** … and then so often; the quickest quarter is told, since a borrowed processor is slower now and then, and never quicker. */
const RUNS = 40;

/** Prints the table. */
export function printWhatifSpeed(): void {
  console.log(
    '\nWhat-ifs: seconds to ready a home, for one scenario (lower quartile of forty), and for a sweep of 40 points\n',
  );
  for (const [years, minutes, scenarioS, sweepS] of [
    [1, 5, 0.06, null],
    [3, 5, null, 3],
    [10, 1, 3, null],
  ] as const) {
    const log = inventedLog(years, minutes);
    const prepared = prepare(SYSTEM, [log]);
    const range = { fromMs: log.startMs, toMs: endMs(log) };
    const { figures } = report(prepared, range);
    const begun = performance.now();
    const runner = scenarioRunner(prepared, range, figures);
    const ready = seconds(begun);
    const [warmUps, runs] = minutes === 1 ? [1, 4] : [WARM_UPS, RUNS];
    const times = Array.from({ length: warmUps + runs }, () => {
      const start = performance.now();
      runner.scenario({
        schema: 'long-tally/scenario@1',
        name: 'one more',
        change: { battery: { modules: 3 } },
      });
      return seconds(start);
    })
      .slice(-runs)
      .sort((a, b) => a - b);
    const sweepBegun = performance.now();
    const isSwept = sweepS !== null;
    for (let at = 1; isSwept && at <= SWEPT; at++)
      runner.point(at, changeAt('battery.modules', at), String(at), 'energies');
    const sweep = seconds(sweepBegun);
    const told = (name: string, value: number, target: number | null) =>
      `${name} ${value.toFixed(3)} s${target === null ? '' : ` (${value <= target ? 'met' : 'MISSED'}: at most ${target})`}`;
    console.log(
      `${years} years at ${minutes} min: ${told('ready', ready, null)}, ${told('scenario', times[Math.floor(runs / 4)]!, scenarioS)}${isSwept ? `, ${told('sweep', sweep, sweepS)}` : ''}`,
    );
  }
}

function seconds(begunMs: number): number {
  return (performance.now() - begunMs) / 1000;
}

/** A sun, a load, and a battery that follows. */
function inventedLog(years: number, minutes: number): SourceLog {
  const count = Math.round((years * 365.25 * 1440) / minutes);
  const column = () => new Float64Array(count);
  const [solar, load, grid, battery, soc] = [column(), column(), column(), column(), column()];
  let stored = 5000;
  for (let i = 0; i < count; i++) {
    const hour = ((i * minutes) / 60) % 24;
    solar[i] = Math.max(0, 3600 * Math.sin((Math.PI * (hour - 6)) / 12) * (0.4 + ((i >> 9) % 7) / 10));
    load[i] = 350 + ((i * 7919) % 811) + (hour > 17 && hour < 22 ? 700 : 0);
    const net = load[i]! - solar[i]!;
    const given =
      net < 0 ? Math.max(net, stored >= 8999 ? -20 : -5000) : stored > 900 ? Math.min(net, 5000) : 0;
    grid[i] = net - given;
    battery[i] = given;
    soc[i] = stored / 9000;
    stored = Math.min(9000, Math.max(0, stored - ((given > 0 ? given / 0.95 : given * 0.95) * minutes) / 60));
  }
  const columns = { solar, load, grid, battery, soc };
  return {
    ...{
      name: 'bench',
      startMs: Date.UTC(2014, 0, 1),
      stepMs: minutes * 60_000,
      count,
      lumps: [],
      findings: [],
    },
    columns: new Map(
      Object.entries(columns).map(([quantity, values]) => [
        quantity as Quantity,
        { values, resolution: quantity === 'soc' ? 0.001 : 1 },
      ]),
    ),
  };
}
