import { knownCells } from '../../model/blocks.js';
import type { Finding } from '../../model/finding.js';
import {
  endMs,
  type Channel,
  type Column,
  type Fill,
  type Grid,
  type Log,
  type SourceLog,
  type UnshapedEnergy,
} from '../../model/log.js';
import type { Range } from '../../model/range.js';
import { between, quantityText, type Quantity } from '../../model/quantity.js';
import { MOST_VALUES } from '../read/table.js';
import { isoOf } from '../../time/instant.js';
import { bridge } from './bridge.js';
import { finerShift } from './clockLag.js';
import { derive } from './derive.js';
import { counterOf } from './flows.js';
import { leadByMeter } from './meterLead.js';
import { fillFindings, overlay } from './overlay.js';
import { settleEnergies } from './settleEnergies.js';
import { withSums } from './summedParts.js';

/**
 * All sources of a home on one grid: the finest step of them all, from the first start to the last end. Where two
 * sources give the same quantity one leads as {@link rankSources} has it, the others fill its gaps. The order in which
 * the sources are given changes nothing.
 * @param leads sources that lead a quantity by the owner's choice
 * @param offGrid stretches in which the home has no grid at all: its power is known to be zero then
 * @param sunless stretches in which it has no panels: so is its solar
 * @returns the log, what was met while merging, and the sources in their order
 */
export function mergeSources(
  sources: readonly SourceLog[],
  zone: string,
  offGrid: readonly Range[],
  leads: ReadonlyMap<Quantity, string> = new Map(),
  sunless: readonly Range[] = [],
): { log: Log; findings: Finding[]; ranked: readonly SourceLog[] } {
  const ranked = rankSources(sources);
  const quantities = new Set(ranked.flatMap(({ columns }) => [...columns.keys()]));
  const { whole, findings } = commonGrid(ranked, quantities.size);
  const { startMs } = whole;
  const channels = new Map<Quantity, Channel>();
  const fills: Fill[] = [];
  for (const quantity of quantities) {
    const chosen = leads.get(quantity);
    const holders = ranked
      .filter(({ columns }) => columns.has(quantity))
      .sort((a, b) => Number(b.name === chosen) - Number(a.name === chosen));
    const { values, differing, filled } = overlay(quantity, holders, whole);
    fills.push(...filled);
    findings.push(...fillFindings(filled, values, holders[0]!, whole));
    if (differing > 0) {
      findings.push({
        code: 'sources-differ',
        severity: 'warning',
        fromMs: startMs,
        toMs: endMs(whole),
        message: `The files ${holders.map(({ name }) => name).join(' and ')} give the ${quantityText(quantity)} twice and differ in ${differing} ${differing === 1 ? 'interval' : 'intervals'}; ${holders[0]!.name} leads.`,
        source: holders[0]!.name,
        kWh: null,
      });
    }
    channels.set(quantity, {
      ...bridge(values, between(quantity)),
      resolution: Math.max(...holders.map(({ columns }) => columns.get(quantity)!.resolution)),
      ...counterOf(holders.map(({ columns }) => columns.get(quantity)!)),
      ...(holders.every(({ columns }) => columns.get(quantity)!.isNoted) ? { isNoted: true as const } : {}),
      ...textsOf(holders.map(({ columns }) => columns.get(quantity)!)),
      origin: 'logged',
      sources: holders.map(({ name }) => name),
    });
  }
  const lumps = ranked.flatMap((source) => source.lumps);
  const grid = channels.get('grid');
  if (grid && lumps.some(({ leads: leading }) => leading)) {
    const led = leadByMeter(grid, lumps, whole, isInStep(ranked, lumps));
    channels.set('grid', led.channel);
    findings.push(...led.findings);
  }
  const logged = withSums(channels);
  const settled = settleEnergies(
    lumps.filter(({ leads: leading }) => !leading),
    logged,
    whole,
    leads,
  );
  const all = derive(logged, whole, offGrid, sunless);
  return {
    log: {
      ...whole,
      zone,
      channels: all,
      lumps: settled.lumps,
      fills: fills.sort((a, b) => a.fromMs - b.fromMs || (a.quantity < b.quantity ? -1 : 1)),
    },
    findings: [...findings, ...settled.findings],
    ranked,
  };
}

/** The words of columns by their codes: a code is made of its words, so that files agree on it. */
function textsOf(columns: readonly Column[]): Pick<Column, 'texts'> {
  const given = columns.flatMap(({ texts }) => Object.entries(texts ?? {}));
  return given.length > 0 ? { texts: Object.fromEntries(given) } : {};
}

/** Whether the clocks of the utility meters go with that of the finest log of the grid. */
function isInStep(ranked: readonly SourceLog[], lumps: readonly UnshapedEnergy[]): boolean {
  const meters = new Set(lumps.flatMap(({ leads, source }) => (leads ? [source] : [])));
  const finest = ranked.find(({ columns, name }) => columns.has('grid') && !meters.has(name));
  return (
    finest === undefined ||
    ranked
      .filter(({ name }) => meters.has(name))
      .every((meter) => (finerShift(finest, meter, 'grid', 0)?.ms ?? 0) === 0)
  );
}

/** Steps for sources that lie too far apart for the step of any of them. */
const COARSER_MS = [60_000, 300_000, 900_000, 3_600_000, 6 * 3_600_000, 86_400_000];

/**
 * The grid of all sources: the finest step of them, or, where that many intervals cannot be held between the first
 * start and the last end, the finest that can; what is finer is averaged then, and that is told.
 */
function commonGrid(ranked: readonly SourceLog[], quantities: number): { whole: Grid; findings: Finding[] } {
  const withColumns = ranked.filter(({ columns }) => columns.size > 0);
  const lead = withColumns[0] ?? ranked[0]!;
  const firstMs = Math.min(...ranked.map(({ startMs }) => startMs));
  const lastMs = Math.max(...ranked.map(endMs));
  const coarser = [...withColumns.map(({ stepMs }) => stepMs), ...COARSER_MS]
    .filter((stepMs) => stepMs > lead.stepMs)
    .sort((a, b) => a - b);
  const most = MOST_VALUES / (1 + quantities);
  const fits = (ms: number) => (lastMs - firstMs) / ms <= most;
  const stepMs = [lead.stepMs, ...coarser].find(fits) ?? COARSER_MS.at(-1)!;
  const { startMs: originMs } = withColumns.find((source) => source.stepMs === stepMs) ?? lead;
  const phaseMs = originMs % stepMs;
  const startMs = Math.floor((firstMs - phaseMs) / stepMs) * stepMs + phaseMs;
  const whole = { startMs, stepMs, count: Math.ceil((lastMs - startMs) / stepMs) };
  if (stepMs === lead.stepMs) return { whole, findings: [] };
  const finer = withColumns.filter((source) => source.stepMs < stepMs).map(({ name }) => name);
  const message = `The logs run from ${isoOf(firstMs)} to ${isoOf(lastMs)}, too long for steps of ${lead.stepMs / 1000} s: ${finer.join(', ')} ${finer.length === 1 ? 'counts' : 'count'} as means over ${stepMs / 1000} s. A stray date may be the cause; a log that lies far from the others can stand in a home of its own.`;
  return {
    whole,
    findings: [
      {
        code: 'coarser-step',
        severity: 'warning',
        fromMs: firstMs,
        toMs: lastMs,
        message,
        source: lead.name,
        kWh: null,
      },
    ],
  };
}

/** Sources in the order in which they lead: the finer first, then the one with more values, the earlier, the name. */
export function rankSources(sources: readonly SourceLog[]): SourceLog[] {
  if (sources.length < 2) return [...sources];
  const known = new Map(sources.map((source) => [source, knownValues(source)]));
  return [...sources].sort(
    (a, b) =>
      a.stepMs - b.stepMs ||
      known.get(b)! - known.get(a)! ||
      a.startMs - b.startMs ||
      (a.name < b.name ? -1 : 1),
  );
}

function knownValues({ columns }: SourceLog): number {
  let known = 0;
  for (const { values } of columns.values()) known += knownCells(values);
  return known;
}
