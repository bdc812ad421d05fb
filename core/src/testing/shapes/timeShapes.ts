import { clock, dmy, iso, localIso, mdy12, NET, net, type Shape, shape, text, timed } from '../shape.js';

/** The same log with its times written in many ways. */
export const TIME_SHAPES: readonly Shape[] = [
  shape(
    'canonical',
    text({
      header: ['time', 'solar_w', 'load_w', 'grid_w', 'battery_w', 'soc_pct'],
      row: (one) => [`${iso(one.ms)}Z`, ...net(one)],
    }),
  ),
  shape(
    'ISO with Z',
    timed((ms) => `${iso(ms)}Z`, 'Timestamp'),
  ),
  shape(
    'ISO with an offset',
    timed((ms) => `${localIso(ms).replace(' ', 'T')}+01:00`, 'timestamp'),
  ),
  shape('site clock, year first', timed(localIso, 'Date/Time')),
  shape('site clock, day first, semicolons', timed(dmy, 'Datum', { separator: ';', decimal: ',' })),
  shape('site clock, month first, 12 hours', timed(mdy12, 'Date')),
  shape(
    'day first with points',
    timed((ms) => dmy(ms).replaceAll('/', '.'), 'Zeit', { separator: ';' }),
  ),
  shape(
    'month by name',
    timed((ms) => {
      const { y, d, h, min } = clock(ms);
      return `${d}-May-${y} ${h}:${min}`;
    }, 'Time'),
    { days: 12 },
  ),
  shape(
    'seconds since 1970',
    timed((ms) => ms / 1000, 'epoch'),
  ),
  shape(
    'milliseconds since 1970',
    timed((ms) => ms, 'ts'),
  ),
  shape(
    'days of a spreadsheet',
    timed((ms) => ((ms + 3_600_000) / 86_400_000 + 25_569).toFixed(6), 'Date'),
  ),
  shape(
    'compact digits',
    timed((ms) => iso(ms).replace(/[-:T]/g, '').slice(0, 12), 'UTC time'),
  ),
  shape(
    'UTC said by the header',
    timed((ms) => iso(ms).replace('T', ' '), 'Time (UTC)'),
  ),
  shape(
    'date and clock in two columns',
    text({ header: ['Date', 'Time', ...NET], row: (one) => [...dmy(one.ms).split(' '), ...net(one)] }),
  ),
  shape(
    'one day of which day and month could be exchanged',
    timed((ms) => dmy(ms + 0), 'Date'),
    { days: 1, asks: ['time.format'] },
  ),
  shape(
    'a logger on UTC that does not say so',
    timed((ms) => iso(ms).replace('T', ' '), 'Time'),
    { asks: ['time.zone'] },
  ),
];
