import type { Finding } from '../check/finding.js';
import {
  endMs,
  isPower,
  type Channel,
  type Column,
  type Grid,
  type Log,
  type Quantity,
  type Range,
  type SourceLog,
} from '../series/log.js';
import { bridge } from './bridge.js';
import { derive } from './derive.js';
import { leadByMeter } from './meterLead.js';
import { settleLumps } from './settleLumps.js';
import { sampleAtStarts, spreadMeans } from './spread.js';

/**
 * All sources of a home on one grid: the finest step of them all, from the first start to the last end. Where two
 * sources give the same quantity the finer leads, then the one with more values, then the one whose name comes first;
 * the others fill its gaps. The order in which the sources are given changes nothing.
 * @param leads sources that lead a quantity by the owner's choice
 * @param offGrid stretches in which the home has no grid at all: its power is known to be zero then
 */
export function mergeSources(
  sources: readonly SourceLog[],
  zone: string,
  offGrid: readonly Range[],
  leads: ReadonlyMap<Quantity, string> = new Map(),
): { log: Log; findings: Finding[] } {
  const sizes = new Map(sources.length > 1 ? sources.map((source) => [source, knownValues(source)]) : []);
  const ranked = [...sources].sort(
    (a, b) =>
      a.stepMs - b.stepMs ||
      sizes.get(b)! - sizes.get(a)! ||
      a.startMs - b.startMs ||
      (a.name < b.name ? -1 : 1),
  );
  const lead = ranked.find(({ columns }) => columns.size > 0) ?? ranked[0]!;
  const phaseMs = lead.startMs % lead.stepMs;
  const firstMs = Math.min(...ranked.map(({ startMs }) => startMs));
  const startMs = Math.floor((firstMs - phaseMs) / lead.stepMs) * lead.stepMs + phaseMs;
  const lastMs = Math.max(...ranked.map(endMs));
  const whole: Grid = { startMs, stepMs: lead.stepMs, count: Math.ceil((lastMs - startMs) / lead.stepMs) };
  const findings = ranked.flatMap((source) => source.findings);
  const channels = new Map<Quantity, Channel>();
  for (const quantity of new Set(ranked.flatMap(({ columns }) => [...columns.keys()]))) {
    const chosen = leads.get(quantity);
    const holders = ranked
      .filter(({ columns }) => columns.has(quantity))
      .sort((a, b) => Number(b.name === chosen) - Number(a.name === chosen));
    const { values, differing } = overlay(quantity, holders, whole);
    if (differing > 0) {
      findings.push({
        code: 'sources-differ',
        severity: 'warning',
        fromMs: startMs,
        toMs: lastMs,
        message: `The files ${holders.map(({ name }) => name).join(' and ')} give ${quantity} twice and differ in ${differing} ${differing === 1 ? 'interval' : 'intervals'}; ${holders[0]!.name} leads.`,
        source: holders[0]!.name,
        kWh: null,
      });
    }
    channels.set(quantity, {
      ...bridge(values),
      resolution: Math.max(...holders.map(({ columns }) => columns.get(quantity)!.resolution)),
      origin: 'logged',
      sources: holders.map(({ name }) => name),
    });
  }
  const lumps = ranked.flatMap((source) => source.lumps);
  const grid = channels.get('grid');
  if (grid && lumps.some(({ leads: leading }) => leading)) {
    const led = leadByMeter(grid, lumps, whole);
    channels.set('grid', led.channel);
    findings.push(...led.findings);
  }
  const settled = settleLumps(
    lumps.filter(({ leads: leading }) => !leading),
    channels,
    whole,
  );
  const all = derive(channels, whole, offGrid);
  return {
    log: { ...whole, zone, channels: all, lumps: settled.lumps },
    findings: [...findings, ...settled.findings],
  };
}

function knownValues({ columns }: SourceLog): number {
  let known = 0;
  for (const { values } of columns.values())
    for (let i = 0; i < values.length; i++) if (!Number.isNaN(values[i]!)) known++;
  return known;
}

function overlay(
  quantity: Quantity,
  holders: readonly SourceLog[],
  grid: Grid,
): { values: Float64Array; differing: number } {
  let differing = 0;
  const [first] = holders;
  const same = first && holders.length === 1 && first.startMs === grid.startMs && first.count === grid.count;
  if (same && first.stepMs === grid.stepMs) return { values: first.columns.get(quantity)!.values, differing };
  const values = new Float64Array(grid.count);
  for (const holder of holders) {
    const column = holder.columns.get(quantity)!;
    const { offset, placed } = onGrid(quantity, holder, column, grid);
    if (holder === first) {
      values.set(placed, offset);
      values.fill(NaN, 0, offset);
      values.fill(NaN, offset + placed.length);
      continue;
    }
    const tolerance = Math.max(column.resolution, 1e-9);
    for (let i = 0; i < placed.length; i++) {
      const value = placed[i]!;
      if (Number.isNaN(value)) continue;
      const known = values[offset + i]!;
      if (Number.isNaN(known)) values[offset + i] = value;
      else if (Math.abs(known - value) > tolerance && holder.stepMs === first!.stepMs) differing++;
    }
  }
  return { values, differing };
}

function onGrid(
  quantity: Quantity,
  source: SourceLog,
  { values }: Column,
  grid: Grid,
): { offset: number; placed: Float64Array } {
  const offset = (source.startMs - grid.startMs) / grid.stepMs;
  if (source.stepMs === grid.stepMs && Number.isInteger(offset)) return { offset, placed: values };
  const rows = {
    timeMs: Float64Array.from(values, (_, i) => source.startMs + i * source.stepMs),
    lastsMs: new Float64Array(values.length).fill(source.stepMs),
  };
  return {
    offset: 0,
    placed: isPower(quantity) ? spreadMeans(rows, values, grid) : sampleAtStarts(rows, values, grid),
  };
}
