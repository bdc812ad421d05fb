import { iso, kW, localIso, NET, net, type Shape, shape, SOC, text, up } from '../shape.js';

/** Logs of a part of the home, of parts of its flows, and of other things beside them. */
export const PART_SHAPES: readonly Shape[] = [
  shape(
    'shunt: volts and amps of the bank, charging positive',
    text({
      header: ['Time', 'Bank voltage (V)', 'Shunt current (A)', 'SOC (%)'],
      row: (one) => [localIso(one.ms), 50, -one.battery / 50, one.soc],
    }),
    { keys: ['account.charge', 'account.discharge', ...SOC] },
  ),
  shape(
    'shunt without a charge beside it',
    text({
      header: ['Time', 'Pack voltage (V)', 'Pack current (A)'],
      row: (one) => [localIso(one.ms), 50, -one.battery / 50],
    }),
    { keys: [], asks: ['column:Pack current (A)'] },
  ),
  shape(
    'legs alone, no load of the whole',
    text({
      header: ['time', 'solar_w', 'grid_w', 'battery_w', 'leg1_w', 'leg2_w', 'soc_pct'],
      row: (one) => [
        `${iso(one.ms)}Z`,
        one.solar,
        one.grid,
        one.battery,
        one.load - Math.floor(one.load / 3),
        Math.floor(one.load / 3),
        one.soc,
      ],
    }),
  ),
  shape(
    'arrays alone, no solar of the whole',
    text({
      header: ['time', 'east_solar_w', 'west_solar_w', 'load_w', 'grid_w', 'battery_w', 'soc_pct'],
      row: (one) => [
        `${iso(one.ms)}Z`,
        Math.floor(one.solar / 3),
        one.solar - Math.floor(one.solar / 3),
        one.load,
        one.grid,
        one.battery,
        one.soc,
      ],
    }),
  ),
  shape(
    'weather and prices beside the flows',
    text({
      header: [
        'Time',
        ...NET,
        'Rain (mm)',
        'Irradiance (W/m2)',
        'Outdoor temp (°F)',
        'Price (ct/kWh)',
        'Cost (EUR)',
      ],
      row: (one, i) => [
        localIso(one.ms),
        ...net(one),
        i % 40 ? 0 : 0.2,
        Math.round(one.solar / 4),
        60 + (i % 12),
        31.4,
        kW(up(one.grid)),
      ],
    }),
  ),
  shape(
    'an appliance beside the flows',
    text({
      header: ['Time', ...NET, 'Heat pump (W)'],
      row: (one, i) => [localIso(one.ms), ...net(one), i % 30 < 8 ? 900 : 0],
    }),
  ),
  shape(
    'the charge stamped at the end of its row',
    (list) =>
      text({
        header: ['time', 'solar_w', 'load_w', 'grid_w', 'battery_w', 'soc_pct'],
        row: (one, i) => [
          `${iso(one.ms)}Z`,
          one.solar,
          one.load,
          one.grid,
          one.battery,
          list[i + 1]?.soc ?? '',
        ],
      })(list),
    { within: 0.005 },
  ),
  shape(
    'three strings with their sum',
    text({
      header: ['Time', 'PV total W', 'PV1 W', 'PV2 W', 'PV3 W', 'Load W', 'Grid W', 'Battery W', 'SOC %'],
      row: ({ ms, solar, load, grid, battery, soc }) => {
        const [a, b] = [Math.round(solar * 0.5), Math.round(solar * 0.3)];
        return [localIso(ms), solar, a, b, solar - a - b, load, grid, battery, soc];
      },
    }),
  ),
  shape(
    'two inverters, each with its own sun, load and battery',
    text({
      header: [
        'Time',
        'Inverter 1 PV power (W)',
        'Inverter 2 PV power (W)',
        'Inverter 1 load (W)',
        'Inverter 2 load (W)',
        'Grid power (W)',
        'Inverter 1 battery power (W)',
        'Inverter 2 battery power (W)',
        'Battery SOC (%)',
      ],
      row: ({ ms, solar, load, grid, battery, soc }) => {
        const [sun, use, store] = [solar, load, battery].map((w) => Math.round(w * 0.45)) as [
          number,
          number,
          number,
        ];
        return [localIso(ms), sun, solar - sun, use, load - use, grid, store, battery - store, soc];
      },
    }),
  ),
  shape(
    'a heat pump and a car named in German beside the flows',
    text({
      header: [
        'Zeit',
        'PV (W)',
        'Verbrauch (W)',
        'Netz (W)',
        'Batterie (W)',
        'SOC (%)',
        'Wärmepumpe (W)',
        'Wallbox (W)',
      ],
      row: ({ ms, solar, load, grid, battery, soc }) => [
        localIso(ms),
        solar,
        load,
        grid,
        battery,
        soc,
        Math.round(load * 0.2),
        Math.round(load * 0.3),
      ],
    }),
  ),
];
