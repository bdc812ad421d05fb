import { endMs, type Log, type Quantity } from '../series/log.js';
import type { Finding } from './finding.js';

/** What stays unexplained of a home's flows must be this large before another reading is looked for … */
const DOUBTFUL = 0.3;
/** … and another reading must leave no more than this share of it. */
const MENDS = 0.35;
const LOOKED_AT = 60_000;

interface Trial {
  readonly quantity: Quantity;
  readonly factor: number;
}

const FACTORS = [-1, 1000, 0.001] as const;

/**
 * Looks for the sign or unit of one flow that keeps the account from closing: solar + grid + battery = load is tried with
 * each flow turned round, and taken for kilowatts or for watts.
 */
export function balanceFindings(log: Log): Finding[] {
  const at = (quantity: Quantity) => {
    const channel =
      log.channels.get(quantity) ?? (quantity === 'battery' ? log.channels.get('batteryDc') : undefined);
    return channel?.origin === 'derived' ? undefined : channel;
  };
  const flows = (['solar', 'grid', 'battery', 'load'] as const).map((quantity) => ({
    quantity,
    channel: at(quantity),
  }));
  if (flows.some(({ channel }) => !channel)) return signBySoc(log);
  const every = Math.max(1, Math.floor(log.count / LOOKED_AT));
  const restWith = ({ quantity, factor }: Trial) => {
    let rest = 0;
    let flow = 0;
    for (let i = 0; i < log.count; i += every) {
      let sum = 0;
      let size = 0;
      for (const { quantity: own, channel } of flows) {
        const value = channel!.values[i]! * (own === quantity ? factor : 1);
        sum += own === 'load' ? -value : value;
        size += Math.abs(value);
      }
      if (Number.isNaN(sum)) continue;
      rest += Math.abs(sum);
      flow += size / 2;
    }
    return flow > 0 ? rest / flow : 0;
  };
  const asItIs = restWith({ quantity: 'load', factor: 1 });
  if (asItIs < DOUBTFUL) return [];
  const [best] = flows
    .flatMap(({ quantity }) =>
      FACTORS.map((factor) => ({ quantity, factor, rest: restWith({ quantity, factor }) })),
    )
    .sort((a, b) => a.rest - b.rest) as [Trial & { rest: number }];
  if (best.rest > MENDS * asItIs) return [];
  const channel = at(best.quantity)!;
  const percent = (share: number) => `${Math.round(100 * share)} %`;
  const what =
    best.factor === -1
      ? `has its sign the other way round`
      : best.factor === 1000
        ? 'is in kilowatts, not in watts'
        : 'is a thousand times too large';
  return [
    {
      code: best.factor === -1 ? 'sign-turned' : 'unit-mistaken',
      severity: 'error',
      fromMs: log.startMs,
      toMs: endMs(log),
      message: `The account leaves ${percent(asItIs)} of what flows unexplained; if ${best.quantity} ${what}, it leaves ${percent(best.rest)}.`,
      source: channel.sources.length === 1 ? channel.sources[0]! : null,
      kWh: energyOf(channel.values, log),
      proposal: {
        kind: 'scale',
        source: null,
        quantity: log.channels.has(best.quantity) ? best.quantity : 'batteryDc',
        factor: best.factor,
      },
    },
    ...(best.quantity === 'battery' ? [] : signBySoc(log)),
  ];
}

/** A battery whose state of charge falls while it is said to charge. */
function signBySoc(log: Log): Finding[] {
  const quantity = log.channels.has('battery') ? 'battery' : 'batteryDc';
  const battery = log.channels.get(quantity);
  const soc = log.channels.get('soc')?.values;
  if (battery?.origin !== 'logged' || !soc) return [];
  const hop = Math.max(1, Math.round(3_600_000 / log.stepMs));
  let together = 0;
  let against = 0;
  for (let i = 0; i + hop < log.count; i += hop) {
    let wh = 0;
    for (let k = 0; k < hop; k++) wh += battery.values[i + k]!;
    const change = soc[i + hop]! - soc[i]!;
    if (Number.isNaN(change) || Number.isNaN(wh) || Math.abs(change) < 0.02) continue;
    if (change * wh > 0) together++;
    else against++;
  }
  if (together + against < 20 || together < 3 * against) return [];
  return [
    {
      code: 'sign-turned',
      severity: 'error',
      fromMs: log.startMs,
      toMs: endMs(log),
      message: `In ${together} of ${together + against} hours the state of charge falls while the battery is said to charge, or rises while it discharges: its sign seems to be the other way round.`,
      source: battery.sources.length === 1 ? battery.sources[0]! : null,
      kWh: energyOf(battery.values, log),
      proposal: { kind: 'scale', source: null, quantity, factor: -1 },
    },
  ];
}

function energyOf(values: Float64Array, { stepMs }: Log): number {
  let sum = 0;
  for (const value of values) if (!Number.isNaN(value)) sum += Math.abs(value);
  return (sum * stepMs) / 3_600_000 / 1000;
}
