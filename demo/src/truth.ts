import { parseInstant } from '@long-tally/core';
import { KAURI_BEND, KAURI_BEND_TRUTH as PARAMETERS } from './kauriBend.js';
import type { Flows, Outage } from './simulate.js';

type Total = 'solar' | 'load' | 'import' | 'export' | 'charge' | 'discharge';
type Totals = Record<Total, number>;

/** What really happened in a simulated home, for tests to hold the figures against. Energies in kWh. */
export interface Truth {
  /** Minute by minute. */
  readonly totals: Readonly<Totals>;
  /** Over the rows that were written, averaged to the log's step: what faultless meters would have logged. */
  readonly logged: Readonly<Totals> & { readonly efcNameplate: number };
  /** Σ discharge ÷ Σ charge between the first and the last minute at which the battery was full. */
  readonly roundTrip: number;
  readonly outages: readonly { readonly from: string; readonly minutes: number }[];
  readonly parameters: typeof PARAMETERS;
}

/** Adds up the true course. */
export interface Witness {
  /** A minute of the home. */
  readonly minute: (flows: Flows, soc: number) => void;
  /** True means of a row that the logger wrote. */
  readonly row: (flows: Flows, ms: number, minutes: number) => void;
  readonly finish: (outages: readonly Outage[]) => Truth;
}

/** A witness of the demo home. */
export function witness(): Witness {
  const totals = nothing();
  const logged = nothing();
  const changeMs = parseInstant(KAURI_BEND.configurations[1].from);
  const nameplates = KAURI_BEND.configurations.map(({ battery }) => battery.modules * battery.moduleKWh);
  let efcNameplate = 0;
  let full: Totals | null = null;
  let lastFull = nothing();
  return {
    minute: (flows, soc) => {
      add(totals, flows, 1);
      if (soc > 0.9995) {
        lastFull = { ...totals };
        full ??= lastFull;
      }
    },
    row: (flows, ms, minutes) => {
      add(logged, flows, minutes);
      efcNameplate += (Math.max(0, flows.batteryW) * minutes) / 60_000 / nameplates[ms < changeMs ? 0 : 1]!;
    },
    finish: (outages) => ({
      totals,
      logged: { ...logged, efcNameplate },
      roundTrip: (lastFull.discharge - (full?.discharge ?? 0)) / (lastFull.charge - (full?.charge ?? 0)),
      outages: outages.map(({ fromMs, toMs }) => ({
        from: new Date(fromMs).toISOString(),
        minutes: (toMs - fromMs) / 60_000,
      })),
      parameters: PARAMETERS,
    }),
  };
}

function nothing(): Totals {
  return { solar: 0, load: 0, import: 0, export: 0, charge: 0, discharge: 0 };
}

function add(totals: Totals, { solarW, loadW, gridW, batteryW }: Flows, minutes: number): void {
  const kWh = minutes / 60_000;
  totals.solar += solarW * kWh;
  totals.load += loadW * kWh;
  totals.import += Math.max(0, gridW) * kWh;
  totals.export += Math.max(0, -gridW) * kWh;
  totals.charge += Math.max(0, -batteryW) * kWh;
  totals.discharge += Math.max(0, batteryW) * kWh;
}
