import { expect, test } from '@jest/globals';
import { prepare, rangeDataOf } from '../../passes/prepare.js';
import { endMs } from '../../model/log.js';
import { read, systemOf, TEN_KWH } from '../../testing/logs.js';
import { frequencyFinding, frequencyShift } from './frequencyShift.js';

const base = systemOf(TEN_KWH);
const home = { ...base, configurations: [{ ...base.configurations![0]!, grid: 'none' as const }] };

/** An island of 5 min: from 97 % on the frequency rises until the charge is down to `backSoc`; solar ramps to the load, or stops. */
async function island(isRamped: boolean, backSoc: number) {
  const rows: string[] = [];
  let [soc, isRaised] = [0.6, false];
  for (let i = 0; i < 5 * 288; i++) {
    const hour = (i % 288) / 12;
    const sun = Math.max(0, 4000 * Math.sin((Math.PI * (hour - 6)) / 12));
    if (soc >= 0.97) isRaised = true;
    if (soc <= backSoc) isRaised = false;
    const solar = !isRaised || sun === 0 ? sun : isRamped ? Math.min(sun, 380) : 0;
    const hz = isRaised && sun > 0 ? 51.6 : 50.01;
    rows.push(
      `${new Date(Date.UTC(2024, 5, 1) + i * 300_000).toISOString()},${solar.toFixed(0)},400,${(400 - solar).toFixed(0)},${(100 * soc).toFixed(1)},${hz}`,
    );
    soc = Math.min(1, soc + (solar - 400) / 12 / 10_000);
  }
  const { log } = await read(`time,solar_w,load_w,battery_w,soc_pct,island_hz\n${rows.join('\n')}\n`);
  return rangeDataOf(prepare(home, [log]), { fromMs: log.startMs, toMs: endMs(log) });
}

test('an inverter that ramps is told with the charge at which it begins and its highest frequency', async () => {
  const data = await island(true, 0.95);
  const shift = frequencyShift(data)!;
  expect(shift.isRamped).toBe(true);
  expect(shift.fromSoc).toBeCloseTo(0.97, 1);
  expect(shift.highestHz).toBe(51.6);
  expect(frequencyFinding(data)[0]).toMatchObject({ code: 'frequency-ramp', severity: 'note' });
});

test('one that drops out at once is warned of, with the charge at which it is back', async () => {
  const data = await island(false, 0.95);
  const shift = frequencyShift(data)!;
  expect(shift).toMatchObject({ isRamped: false });
  expect(Math.abs(shift.backSoc - 0.95)).toBeLessThan(0.006);
  expect(shift.runs).toBeGreaterThan(5);
  const [finding] = frequencyFinding(data);
  expect(finding).toMatchObject({ code: 'frequency-drop-out', severity: 'warning' });
  expect(finding!.message).toMatch(/drops out at once/);
});

test('an island at rest, or a log without its frequency, has none', async () => {
  const { log } = await read(
    'time,solar_w,soc_pct,island_hz\n2024-06-01T00:00:00Z,500,50,50\n2024-06-01T00:05:00Z,500,50,50\n',
  );
  expect(
    frequencyShift(rangeDataOf(prepare(home, [log]), { fromMs: log.startMs, toMs: endMs(log) })),
  ).toBeNull();
  const { log: blind } = await read(
    'time,solar_w,soc_pct\n2024-06-01T00:00:00Z,500,50\n2024-06-01T00:05:00Z,500,50\n',
  );
  expect(
    frequencyFinding(rangeDataOf(prepare(home, [blind]), { fromMs: blind.startMs, toMs: endMs(blind) })),
  ).toEqual([]);
});
