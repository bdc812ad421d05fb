import { checkSystem, type System } from '@long-tally/core';

/** An invented home with a battery. */
export const MILL: System = checkSystem(
  {
    schema: 'long-tally/system@1',
    name: 'Mill Lane',
    timeZone: 'UTC',
    configurations: [
      {
        from: '2024-01-01T00:00:00Z',
        battery: { modules: 2, moduleKWh: 5, usableShare: 0.9, maxChargeKW: 5, maxDischargeKW: 5 },
        inverter: { batteryOnlyKW: 6 },
      },
    ],
  },
  'system',
);

/** Days at quarter hours of an invented home: a sun, a load, and a battery that follows. */
export function millCsv(days: number, firstDay = 1): string {
  const lines = ['time,solar_w,load_w,grid_w,battery_w,soc_pct'];
  let stored = 5000;
  for (let i = 0; i < days * 96; i++) {
    const hour = (i / 4) % 24;
    const solar = Math.max(0, Math.round(3000 * Math.sin((Math.PI * (hour - 6)) / 12)));
    const load = 400 + ((i * 7) % 23) + (hour > 17 && hour < 22 ? 900 : 0);
    const want = load - solar;
    const battery = want < 0 ? Math.max(want, -4 * (9000 - stored)) : Math.min(want, 4 * (stored - 900));
    lines.push(
      [
        new Date(Date.UTC(2024, 0, firstDay) + i * 900_000).toISOString(),
        ...[solar, load, Math.round(want - battery), Math.round(battery)],
        ((100 * stored) / 9000).toFixed(2),
      ].join(','),
    );
    stored -= battery / 4;
  }
  return `${lines.join('\n')}\n`;
}
