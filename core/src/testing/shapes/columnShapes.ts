import { ALL, dmy, kW, localIso, net, pairs, type Shape, shape, text } from '../shape.js';

/** Columns named in several languages, a load that is not logged, a battery by volts and amps. */
export const COLUMN_SHAPES: readonly Shape[] = [
  shape(
    'camel case',
    text({
      header: ['timestamp', 'pvPower', 'housePower', 'gridPower', 'batteryPower', 'batterySoc'],
      row: (one) => [localIso(one.ms), ...net(one)],
    }),
  ),
  shape(
    'Portuguese words',
    text({
      header: ['Data e hora', 'Produção solar (kW)', 'Consumo (kW)', 'Rede (kW)', 'Bateria (kW)', 'SOC (%)'],
      row: ({ ms, solar, load, grid, battery, soc }) => [
        dmy(ms),
        kW(solar),
        kW(load),
        kW(grid),
        kW(battery),
        soc,
      ],
      separator: ';',
      decimal: ',',
    }),
  ),
  shape(
    'German words',
    text({
      header: [
        'Zeitstempel',
        'PV-Leistung [kW]',
        'Hausverbrauch [kW]',
        'Netzbezug [kW]',
        'Netzeinspeisung [kW]',
        'Batterie Ladung [kW]',
        'Batterie Entladung [kW]',
        'Ladezustand [%]',
      ],
      row: (one) => [dmy(one.ms).replaceAll('/', '.'), ...pairs(one)],
      separator: ';',
      decimal: ',',
    }),
  ),
  shape(
    'Slovene words',
    text({
      header: [
        'Datum',
        'Proizvodnja kW',
        'Poraba kW',
        'Odjem kW',
        'Oddaja kW',
        'Polnjenje kW',
        'Praznjenje kW',
      ],
      row: (one) => [dmy(one.ms).replaceAll('/', '.'), ...pairs(one).slice(0, 6)],
      separator: ';',
      decimal: ',',
    }),
    { keys: ALL },
  ),
  shape(
    'load not logged',
    text({
      header: ['Time', 'PV W', 'Grid W', 'Battery W', 'SOC %'],
      row: ({ ms, solar, grid, battery, soc }) => [localIso(ms), solar, grid, battery, soc],
    }),
  ),
  shape(
    'battery by volts and amps',
    text({
      header: ['Time', 'PV W', 'Load W', 'Grid W', 'Battery voltage (V)', 'Battery current (A)', 'SOC %'],
      row: ({ ms, solar, load, grid, battery, soc }) => [
        localIso(ms),
        solar,
        load,
        grid,
        51.2,
        (battery / 51.2).toFixed(2),
        soc,
      ],
    }),
    { within: 0.004 },
  ),
  shape(
    'two strings of modules',
    text({
      header: ['Time', 'PV1 power W', 'PV2 power W', 'Load W', 'Grid W', 'Battery W', 'SOC %'],
      row: ({ ms, solar, load, grid, battery, soc }) => [
        localIso(ms),
        Math.round(solar * 0.6),
        solar - Math.round(solar * 0.6),
        load,
        grid,
        battery,
        soc,
      ],
    }),
  ),
];
