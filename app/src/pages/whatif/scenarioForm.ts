import { scenarioSchema, type ScenarioFile } from '@long-tally/core';
import { fieldText } from '../../ui/format.js';
import { typedNumber } from '../../ui/typedNumber.js';

type Change = ScenarioFile['change'];

/** A change as its form holds it: empty stays as it is. */
export interface ChangeForm {
  readonly name: string;
  readonly modules: string;
  readonly reserve: string;
  readonly batteryOnly: string;
  readonly arrays: string;
  readonly exportLimit: string;
  readonly idle: string;
  readonly windowStart: string;
  readonly windowEnd: string;
  readonly windowTo: string;
  readonly windowMonths: string;
  readonly loadName: string;
  readonly loadKWh: string;
  readonly loadKW: string;
  readonly loadStart: string;
  readonly loadEnd: string;
  readonly surplusKW: string;
  readonly heatPump: string;
  readonly price: string;
  readonly units: string;
  readonly outageShare: string;
  readonly outageCap: string;
  readonly maxDischarge: string;
  readonly gridChargeLimit: string;
  /** Names of logged parts of the load, with commas between them. */
  readonly toSurplus: string;
  readonly toNight: string;
  readonly takenAway: string;
  readonly coupling: 'same' | 'ac' | 'dc';
  readonly strategy: 'same' | 'self-use' | 'cheap-charge' | 'cheap-known' | 'peak-shave' | 'none';
  readonly without: 'none' | 'battery' | 'solar';
}

const number = (text: string) => (text.trim() === '' ? undefined : typedNumber(text));
const share = (text: string) => {
  const percent = number(text);
  return percent === undefined ? undefined : percent / 100;
};
const text = (value: number | undefined) => (value === undefined ? '' : fieldText(Number(value.toFixed(6))));
const clock = (time: string) => (time.trim() === '' ? undefined : time.trim().padStart(5, '0'));

/** The form of a scenario; empty without one. */
export function formOfScenario(scenario: ScenarioFile | null): ChangeForm {
  const change = scenario?.change ?? {};
  const [window] = change.chargeWindows ?? [];
  const [load] = change.addLoads ?? [];
  const namesTo = (to: 'surplus' | 'night') =>
    (change.shiftLoads ?? []).flatMap((one) => (one.to === to ? [one.name] : [])).join(', ');
  return {
    name: scenario?.name ?? '',
    modules: text(change.battery?.modules),
    reserve: text(change.battery?.reserve === undefined ? undefined : 100 * change.battery.reserve),
    batteryOnly: text(change.inverter?.batteryOnlyKW),
    arrays: text(change.arraysScale?.['all']),
    exportLimit: text(change.exportLimitKW),
    idle: text(change.idleW),
    windowStart: window?.start ?? '',
    windowEnd: window?.end ?? '',
    windowTo: text(window && 100 * window.toSoc),
    windowMonths: window?.months?.join(', ') ?? '',
    loadName: load?.name ?? '',
    loadKWh: text(load?.kWhPerDay),
    loadKW: text(load?.kW),
    loadStart: load?.start ?? '',
    loadEnd: load?.end ?? '',
    surplusKW: text(change.surplusLoad?.kW),
    heatPump: text(change.heatPump?.kWhPerDegreeDay),
    price: text(scenario?.price),
    units: text(change.inverter?.units),
    outageShare: text(change.outage?.share === undefined ? undefined : 100 * change.outage.share),
    outageCap: text(change.outage?.capKW),
    maxDischarge: text(change.battery?.maxDischargeKW),
    gridChargeLimit: text(change.gridChargeLimitKW),
    toSurplus: namesTo('surplus'),
    toNight: namesTo('night'),
    takenAway: (change.removeLoads ?? []).join(', '),
    coupling: change.coupling ?? 'same',
    strategy:
      change.strategy === 'cheap-charge' && change.knowsTomorrow
        ? 'cheap-known'
        : (change.strategy ?? 'same'),
    without: change.noBattery ? 'battery' : change.noSolar ? 'solar' : 'none',
  };
}

const DEFAULT_HEAT_PUMP_KW = 5;

/** What stands between commas. */
function listOf(typed: string): string[] {
  return typed
    .split(',')
    .map((one) => one.trim())
    .filter((one) => one !== '');
}

/**
 * The scenario a form describes, with what the form does not show from the one that is changed.
 * @returns what is wrong, in words, where it is no scenario
 */
export function scenarioOfForm(form: ChangeForm, original: ScenarioFile | null): ScenarioFile | string {
  const before = original?.change ?? {};
  const known = <T extends object>(object: T): T | undefined => {
    const entries = Object.entries(object).filter(([, value]) => value !== undefined);
    return entries.length > 0 ? (Object.fromEntries(entries) as T) : undefined;
  };
  const months = listOf(form.windowMonths).map(Number);
  const shifted = (['surplus', 'night'] as const).flatMap((to) =>
    listOf(to === 'surplus' ? form.toSurplus : form.toNight).map((name) => ({ name, to })),
  );
  const takenAway = listOf(form.takenAway);
  const hasWindow = [form.windowStart, form.windowEnd, form.windowTo].some((one) => one.trim() !== '');
  const hasLoad = [form.loadName, form.loadKWh, form.loadKW].some((one) => one.trim() !== '');
  const surplusKW = number(form.surplusKW);
  const heat = number(form.heatPump);
  const price = number(form.price);
  const change = known({
    ...before,
    battery: known({
      ...before.battery,
      modules: number(form.modules),
      reserve: share(form.reserve),
      maxDischargeKW: number(form.maxDischarge),
    }),
    inverter: known({
      ...before.inverter,
      units: number(form.units),
      batteryOnlyKW: number(form.batteryOnly),
    }),
    gridChargeLimitKW: number(form.gridChargeLimit),
    outage: known({ ...before.outage, share: share(form.outageShare), capKW: number(form.outageCap) }),
    shiftLoads: shifted.length > 0 ? shifted : undefined,
    removeLoads: takenAway.length > 0 ? takenAway : undefined,
    coupling: form.coupling === 'same' ? undefined : form.coupling,
    strategy:
      form.strategy === 'same'
        ? undefined
        : form.strategy === 'cheap-known'
          ? ('cheap-charge' as const)
          : form.strategy,
    knowsTomorrow: form.strategy === 'cheap-known' ? true : undefined,
    arraysScale:
      number(form.arrays) === undefined && before.arraysScale?.['all'] === undefined
        ? before.arraysScale
        : known({ ...before.arraysScale, all: number(form.arrays) }),
    exportLimitKW: number(form.exportLimit),
    idleW: number(form.idle),
    chargeWindows: hasWindow
      ? [
          known({
            start: clock(form.windowStart),
            end: clock(form.windowEnd),
            toSoc: share(form.windowTo),
            months: months.length > 0 ? months : undefined,
          }),
          ...(before.chargeWindows?.slice(1) ?? []),
        ]
      : undefined,
    addLoads: hasLoad
      ? [
          known({
            name: form.loadName.trim() || undefined,
            kWhPerDay: number(form.loadKWh),
            kW: number(form.loadKW),
            start: clock(form.loadStart),
            end: clock(form.loadEnd),
          }),
          ...(before.addLoads?.slice(1) ?? []),
        ]
      : undefined,
    surplusLoad:
      surplusKW === undefined ? undefined : { aboveSoc: 0.95, ...before.surplusLoad, kW: surplusKW },
    heatPump:
      heat === undefined
        ? undefined
        : { kW: DEFAULT_HEAT_PUMP_KW, ...before.heatPump, kWhPerDegreeDay: heat },
    noBattery: form.without === 'battery' ? true : undefined,
    noSolar: form.without === 'solar' ? true : undefined,
  }) as Change | undefined;
  if (form.name.trim() === '') return 'Give the change a name, by which it stands among the others.';
  if (!change) return 'Write at least one thing that changes.';
  const checked = scenarioSchema.safeParse({
    schema: 'long-tally/scenario@1',
    name: form.name.trim(),
    change,
    ...(price === undefined ? {} : { price }),
  });
  if (checked.success) return checked.data;
  const [issue] = checked.error.issues;
  return `${WORDS[String(issue!.path.at(1) ?? issue!.path[0])] ?? 'The change'}: ${issue!.message}.`;
}

/** What the parts of a change are called in the form. */
const WORDS: Readonly<Record<string, string>> = {
  battery: 'The battery',
  inverter: 'The inverter',
  arraysScale: 'The panels',
  exportLimitKW: 'The limit of export',
  idleW: 'The idle draw',
  chargeWindows: 'The charging at night (from, to and how far are needed)',
  addLoads: 'The load that is added (kWh a day and kW are needed)',
  surplusLoad: 'The load on the surplus',
  heatPump: 'The heat pump',
  price: 'What it costs',
  gridChargeLimitKW: 'The limit of charging from the grid',
  shiftLoads: 'What is moved',
  outage: 'What is carried in an outage',
  removeLoads: 'What is taken away',
};
