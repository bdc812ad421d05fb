import { describe, expect, test } from '@jest/globals';
import { checkSystem, DEFAULT_SETTINGS, type RollDay, type System, rowsOf, subtotal } from '@long-tally/core';
import fc from 'fast-check';
import { formOf, formSchema, systemOf } from './pages/system/form.js';
import { runs } from './charts/runs.js';
import {
  homeOpened,
  loadPreferences,
  preferencesReducer,
  savePreferences,
  searchChosen,
  settingsChanged,
  settingsFound,
} from './store/preferences.js';
import { selectionReducer, workingOpened } from './store/selection.js';
import {
  clockText,
  counted,
  dateText,
  decimal,
  hoursText,
  intervalText,
  localDateText,
  columnText,
  valueText,
} from './ui/format.js';
import { monthOf, neighbour, rangeOf, yearOf } from './ui/useRange.js';

const SYSTEM: System = {
  schema: 'long-tally/system@1',
  name: 'Mill Lane',
  timeZone: 'Pacific/Auckland',
  configurations: [
    {
      from: '2022-03-01T00:00:00+13:00',
      battery: { modules: 2, moduleKWh: 5.12, usableShare: 0.9, reserve: 0.1, chemistry: 'LFP' },
      inverter: { batteryOnlyKW: 6, surgeKW: 12 },
      coupling: 'dc',
      grid: 'connected',
      arrays: [{ kWp: 6.4 }],
    },
  ],
  tariffs: [{ from: '2022-03-01', import: [{ rate: 0.3 }] }],
};

describe('the system form', () => {
  test('shows a system and gives it back, with what the form does not show', () => {
    const form = formOf(SYSTEM);
    expect(form.configurations[0]).toMatchObject({ from: '2022-03-01T00:00', usablePct: '90', modules: '2' });
    expect(formSchema.parse(form)).toEqual(form);
    expect(checkSystem(systemOf(form, SYSTEM), 'form')).toEqual({ ...SYSTEM, accuracy: {} });
  });

  test('tells a home without panels from one whose panels are not described', () => {
    const [only] = SYSTEM.configurations!;
    for (const arrays of [[], undefined]) {
      const home = {
        ...SYSTEM,
        configurations: [JSON.parse(JSON.stringify({ ...only!, arrays })) as typeof only & {}],
      };
      const form = formOf(home);
      expect(form.configurations[0]!.hasNoPanels).toBe(arrays !== undefined);
      expect(checkSystem(systemOf(form, home), 'form').configurations![0]!.arrays).toEqual(arrays);
    }
  });

  test('gives back every part of a system to the last digit, the demo homes among them', () => {
    const full: System = {
      ...SYSTEM,
      configurations: [
        {
          ...SYSTEM.configurations![0]!,
          inverter: {
            units: 2,
            continuousKW: 8,
            batteryOnlyKW: 6,
            surgeKW: 12,
            legs: 2,
            perLegKW: 3,
            lowChargeKW: 2,
            lowCharge: 0.12,
            statedIdleW: 60,
          },
          arrays: [{ name: 'north', kWp: 6.4, tilt: 25, azimuth: 0 }, { kWp: 2 }],
          exportLimitKW: 5,
          chargeWindows: [{ start: '23:00', end: '07:00', toSoc: 0.8 }],
          warranty: {
            years: 10,
            throughputKWh: 45000,
            cycles: 6000,
            cycleDepth: 0.9,
            capacityKWh: 13,
            endCapacity: 0.7,
          },
          warrantyOffGrid: { years: 5 },
        },
      ],
      tariffs: [
        {
          from: '2022-03-01',
          standingPerDay: 1.2,
          import: [{ rate: 0.34 }, { rate: 0.19, days: ['sat', 'sun'], start: '23:00', end: '07:00' }],
          export: [{ rate: 0.12 }],
        },
        { from: '2023-03-01', import: [{ rate: 0.36 }] },
      ],
      accuracy: { grid: 0.01 },
    };
    const form = formOf(full);
    expect(formSchema.parse(form)).toEqual(form);
    expect(checkSystem(systemOf(form, full), 'form')).toEqual(full);
    // A configuration taken out takes what the form does not show with it.
    const two = {
      ...full,
      configurations: [
        full.configurations![0]!,
        {
          from: '2023-01-01T00:00:00+13:00',
          grid: 'connected' as const,
          battery: { chemistry: 'NMC' },
          inverter: {},
        },
      ],
    };
    const kept = { ...formOf(two), configurations: formOf(two).configurations.slice(1) };
    expect(checkSystem(systemOf(kept, two), 'form').configurations).toEqual([two.configurations[1]]);
  });

  test('takes a decimal comma; refuses what no home can have, in words', () => {
    const form = formOf(SYSTEM);
    const typed = (moduleKWh: string) => ({
      ...form,
      configurations: [{ ...form.configurations[0]!, moduleKWh }],
    });
    expect(systemOf(formSchema.parse(typed('4,8')), SYSTEM)).toMatchObject({
      configurations: [{ battery: { moduleKWh: 4.8 } }],
    });
    for (const wrong of ['-5', 'five', '1e9']) {
      const result = formSchema.safeParse(typed(wrong));
      expect([wrong, result.error?.issues[0]?.message]).toEqual([
        wrong,
        'Write kWh from 0.05 to 500, or leave it empty.',
      ]);
    }
    expect(formSchema.safeParse({ ...form, timeZone: 'Nowhere' }).error?.issues[0]?.message).toMatch(
      /not known/,
    );
    expect(
      formSchema.safeParse({ ...form, configurations: [form.configurations[0]!, form.configurations[0]!] })
        .error?.issues[0]?.message,
    ).toMatch(/comes after/);
  });
});

/** A roll of plain days from a date on. */
function roll(from: string, count: number): RollDay[] {
  return Array.from({ length: count }, (_, i) => {
    const fromMs = Date.parse(from) + i * 86_400_000;
    const date = new Date(fromMs).toISOString().slice(0, 10);
    return {
      date,
      fromMs,
      toMs: fromMs + 86_400_000,
      solar: 1,
      load: 2,
      import: 0.1,
      export: null,
      charge: 0,
      discharge: 0,
      closing: 0.1,
      holdsOwnDraw: false,
      inflow: 2,
      coverage: 1,
      gridFree: i % 2 === 0,
      notes: [],
      weather: null,
      longer: [],
    };
  });
}

describe('ranges of days', () => {
  const days = roll('2023-11-15', 120);
  const dates = ({ from, to }: { from: number; to: number }) => [days[from]!.date, days[to]!.date];

  test('come from the address in either order, held to the roll; else the last month', () => {
    expect(dates(rangeOf(days, '2024-01-10', '2024-01-02'))).toEqual(['2024-01-02', '2024-01-10']);
    expect(dates(rangeOf(days, '2020-01-01', '2023-11-20'))).toEqual(['2023-11-15', '2023-11-20']);
    for (const [from, to] of [
      [null, null],
      ['<script>', '2024-01-01'],
      ['2030-01-01', '2031-01-01'],
    ] as const) {
      expect(dates(rangeOf(days, from, to))).toEqual(['2024-03-01', '2024-03-13']);
    }
  });

  test('months and years follow each other; other ranges by their length', () => {
    const january = monthOf(days, 60);
    expect(dates(january)).toEqual(['2024-01-01', '2024-01-31']);
    expect(dates(neighbour(days, january, 1))).toEqual(['2024-02-01', '2024-02-29']);
    expect(dates(neighbour(days, yearOf(days, 60), -1))).toEqual(['2023-11-15', '2023-12-31']);
    expect(dates(neighbour(days, { from: 50, to: 52 }, -1))).toEqual([days[47]!.date, days[49]!.date]);
    expect(neighbour(days, { from: 0, to: 0 }, -1)).toEqual({ from: 0, to: 0 });
  });

  test('the roll has every day once, newest on top, under its month and year', () => {
    const rows = rowsOf(days, (date) => date.slice(0, 7));
    expect(rows.filter(({ kind }) => kind === 'day')).toHaveLength(days.length);
    expect(rows.flatMap((row) => (row.kind === 'day' ? [] : [`${row.kind} ${row.title}`]))).toEqual([
      'year 2024',
      'month 2024-03',
      'month 2024-02',
      'month 2024-01',
      'year 2023',
      'month 2023-12',
      'month 2023-11',
    ]);
    expect(rows[2]).toEqual({ kind: 'day', index: 119 });
  });

  test('sub-totals add what was measured and leave out what was not', () => {
    expect(subtotal(days, 0, 9)).toEqual({
      solar: 10,
      load: 20,
      import: expect.closeTo(1, 9),
      export: null,
      discharge: 0,
      closingShare: expect.closeTo(0.05, 9),
      gridFree: 5,
    });
  });
});

describe('numbers as they are read', () => {
  test('shares as per cent, a true minus, no minus on a zero', () => {
    expect(valueText(0.8144, 'share')).toBe('81.4');
    expect(decimal(-3.456, 1)).toBe('−3.5');
    expect(decimal(-0.01, 1)).toBe('0.0');
    expect(valueText(12345.6, 'kWh')).toBe('12,346');
    expect(hoursText(2 + 5 / 60)).toBe('2 h 05');
    expect(hoursText(0.5)).toBe('30 min');
  });

  test('an interval has the decimals of its value', () => {
    const figure = { value: 0.814, low: 0.807, high: 0.8214, unit: 'share' } as Parameters<
      typeof intervalText
    >[0];
    expect(intervalText(figure)).toBe('80.7 – 82.1');
  });
});

describe('what is remembered', () => {
  test('the working of a figure opens and closes; a home is opened; the settings change', () => {
    expect(selectionReducer(undefined, workingOpened('wear.throughput'))).toEqual({
      workingKey: 'wear.throughput',
    });
    expect(selectionReducer({ workingKey: 'x' }, workingOpened(null))).toEqual({ workingKey: null });
    const opened = preferencesReducer(
      { settings: null, lastHomeId: null, recent: [], looks: {}, seen: {} },
      homeOpened('mill-lane'),
    );
    const theirs = { ...DEFAULT_SETTINGS, dates: '2024-09-14' } as const;
    const dark = preferencesReducer(opened, settingsChanged({ theme: 'dark' }));
    expect(preferencesReducer(opened, settingsFound(theirs)).settings).toEqual(theirs);
    expect(preferencesReducer(dark, settingsFound(theirs)).settings).toEqual(dark.settings);
    expect(dark).toEqual({
      settings: { ...DEFAULT_SETTINGS, theme: 'dark' },
      lastHomeId: 'mill-lane',
      recent: [],
      looks: {},
      seen: {},
    });
    const chosen = ['a', 'b', 'a', 'c', 'd', 'e', 'f', 'g'].reduce(
      (state, id) => preferencesReducer(state, searchChosen(id)),
      opened,
    );
    expect(chosen.recent).toEqual(['g', 'f', 'e', 'd', 'c', 'a']);
  });

  test('preferences that cannot be read are set aside', () => {
    const kept = new Map<string, string>();
    const storage = {
      getItem: (key: string) => kept.get(key) ?? null,
      setItem: (key: string, value: string) => kept.set(key, value),
    };
    Object.assign(globalThis, { localStorage: storage });
    expect(loadPreferences()).toEqual({ settings: null, lastHomeId: null, recent: [], looks: {}, seen: {} });
    const settings = { ...DEFAULT_SETTINGS, numbers: '1.234,5' } as const;
    savePreferences({ settings, lastHomeId: 'a', recent: ['view days'], looks: {}, seen: {} });
    expect(loadPreferences()).toEqual({
      settings,
      lastHomeId: 'a',
      recent: ['view days'],
      looks: {},
      seen: {},
    });
    // As they were kept before the search remembered anything.
    [...kept.keys()].forEach((key) => kept.set(key, '{"theme":"light","lastHomeId":"a"}'));
    expect(loadPreferences()).toEqual({
      settings: { ...DEFAULT_SETTINGS, theme: 'light' },
      lastHomeId: 'a',
      recent: [],
      looks: {},
      seen: {},
    });
    for (const broken of ['{', '{"theme":"pink","lastHomeId":null}', '[]']) {
      [...kept.keys()].forEach((key) => kept.set(key, broken));
      expect(loadPreferences()).toEqual({
        settings: null,
        lastHomeId: null,
        recent: [],
        looks: {},
        seen: {},
      });
    }
  });
});

describe('words', () => {
  test('stretches of cells are found where they begin and end', () => {
    expect(runs([0, 1, 1, 0, 1], Boolean)).toEqual([
      [1, 3],
      [4, 5],
    ]);
    expect(runs([], Boolean)).toEqual([]);
    fc.assert(
      fc.property(fc.array(fc.boolean()), (cells) => {
        const covered = cells.map(() => false);
        for (const [from, to] of runs(cells, Boolean)) covered.fill(true, from, to);
        expect(covered).toEqual(cells);
      }),
    );
  });

  test('dates and times are those of the site', () => {
    expect(clockText(Date.UTC(2024, 5, 30, 6, 40), 'Pacific/Auckland')).toBe('18:40');
    expect(localDateText(Date.UTC(2024, 5, 30, 13), 'Pacific/Auckland')).toBe('1 July 2024');
    expect(dateText('2024-06-30', 'long')).toBe('Sunday, 30 June 2024');
    expect([counted(1, 'day'), counted(1200, 'day')]).toEqual(['1 day', '1,200 days']);
    expect([columnText('batteryDc'), columnText('load:heat pump')]).toEqual([
      'battery (DC side)',
      'load: heat pump',
    ]);
  });
});
