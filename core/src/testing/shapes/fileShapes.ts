import { gzipSync, strToU8, zipSync } from 'fflate';
import { iso, latin1, localIso, net, type Shape, shape, text, timed, utf16 } from '../shape.js';

/** The same log in files of many kinds: separators, encodings, lines around it, archives. */
export const FILE_SHAPES: readonly Shape[] = [
  shape('tabs', timed(localIso, 'time of day', { separator: '\t' })),
  shape('bars', timed(localIso, 'Time', { separator: '|' })),
  shape('all quoted', (list) =>
    timed(
      localIso,
      'Time',
    )(list)
      .toString()
      .replace(/[^,\n]+/g, '"$&"'),
  ),
  shape(
    'CRLF and a mark',
    (list) => `\uFEFF${timed(localIso, 'Time', { newline: '\r\n' })(list).toString()}`,
  ),
  shape('UTF-16', (list) => utf16(timed(localIso, 'Time', { separator: '\t' })(list).toString())),
  shape('Windows-1252', (list) =>
    latin1(
      text({
        header: [
          'Zeit',
          'PV-Erzeugung [W]',
          'Verbrauch für Haus [W]',
          'Netz [W]',
          'Batterie [W]',
          'Ladezustand [%]',
        ],
        row: (one) => [localIso(one.ms), ...net(one)],
        separator: ';',
      })(list),
    ),
  ),
  shape('title lines above', timed(localIso, 'Time', { above: 'Energy report\nSite: hillside\n' })),
  shape(
    'a row of units',
    text({
      header: ['Time', 'Solar', 'Load', 'Grid', 'Battery', 'SOC'],
      above: '',
      row: (one) => [localIso(one.ms), ...net(one)],
    }),
    {
      write: (list) => {
        const [head, ...rows] = text({
          header: ['Time', 'Solar', 'Load', 'Grid', 'Battery', 'SOC'],
          row: (one) => [localIso(one.ms), ...net(one)],
        })(list).split('\n');
        return [head, ',W,W,W,W,%', ...rows].join('\n');
      },
    },
  ),
  shape('a footer below', timed(localIso, 'Time', { below: 'Total,1,2,3,4,5\nend of report' })),
  shape('newest first', (list) => timed(localIso, 'Time')([...list].reverse())),
  shape('gzip', (list) => gzipSync(strToU8(timed(localIso, 'Time')(list).toString())), {
    file: 'log.csv.gz',
  }),
  shape(
    'a zip of two halves',
    (list) => {
      const half = list.length / 2;
      return zipSync({
        'a.csv': strToU8(timed(localIso, 'Time')(list.slice(0, half)).toString()),
        'b.csv': strToU8(timed(localIso, 'Time')(list.slice(half)).toString()),
        'readme.md': strToU8('no log'),
      });
    },
    { file: 'logs.zip' },
  ),
  shape(
    'JSON rows',
    (list) =>
      JSON.stringify({
        site: 'hillside',
        data: list.map(({ ms, solar, load, grid, battery, soc }) => ({
          time: `${iso(ms)}Z`,
          solarPower: solar,
          loadPower: load,
          gridPower: grid,
          batteryPower: battery,
          soc,
        })),
      }),
    { file: 'log.json' },
  ),
];
