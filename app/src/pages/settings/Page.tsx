import type { Settings } from '@long-tally/core';
import { Link } from 'react-router';
import { settingsChanged } from '../../store/preferences.js';
import { useAppDispatch } from '../../store/store.js';
import { ChoiceField } from '../../ui/ChoiceField.js';
import { dateText, decimal, temperatureText } from '../../ui/format.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { RadioChoice } from '../../ui/RadioChoice.js';
import { useSettings } from '../../ui/useSettings.js';

/** A setting behind its name. */
function Setting<T extends string | number>(choice: React.ComponentProps<typeof RadioChoice<T>>) {
  return (
    <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1 py-1.5">
      <span aria-hidden className="w-56 text-faint">
        {choice.label}
      </span>
      <RadioChoice {...choice} />
    </div>
  );
}

const as = <T extends string | number>(...values: readonly T[]) =>
  values.map((one) => [one, String(one)] as const);

/** How things are shown. None of it changes what a figure says; it is kept with the browser and goes into the book. */
export default function SettingsPage() {
  const { home } = useOverview();
  const settings = useSettings();
  const dispatch = useAppDispatch();
  const set =
    <K extends keyof Settings>(key: K) =>
    (value: Settings[K]) =>
      dispatch(settingsChanged({ [key]: value }));
  return (
    <main id="view" className="min-h-0 flex-1 overflow-y-auto px-5 py-4">
      <div className="max-w-3xl">
        <h1 className="text-xl">Settings</h1>
        <p className="mt-1">
          How things are shown. No figure changes because of it. It is kept with this browser and goes into
          the books you save; a book’s settings hold where a browser has none of its own.
        </p>
        <section aria-label="The page" className="mt-4">
          <h2 className="text-[16px]">The page</h2>
          <Setting
            label="Theme"
            value={settings.theme}
            choices={[
              ['system', 'follow the system'],
              ['light', 'light'],
              ['dark', 'dark'],
            ]}
            onChange={set('theme')}
          />
          <Setting
            label="Size of the text"
            value={settings.textSize}
            choices={as('usual', 'larger', 'largest')}
            onChange={set('textSize')}
          />
        </section>
        <section aria-label="Numbers and dates" className="mt-4">
          <h2 className="text-[16px]">Numbers and dates</h2>
          <Setting
            label="Numbers"
            value={settings.numbers}
            choices={as('1,234.5', '1 234.5', '1.234,5', '1 234,5')}
            onChange={set('numbers')}
          />
          <Setting
            label="Dates"
            value={settings.dates}
            choices={as('14 Sep 2024', 'Sep 14, 2024', '2024-09-14')}
            onChange={set('dates')}
          />
          <Setting
            label="Temperatures"
            value={settings.temperature}
            choices={[
              ['C', '°C'],
              ['F', '°F'],
            ]}
            onChange={set('temperature')}
          />
          <Setting
            label="Decimals of an energy, kWh"
            value={settings.energyDigits}
            choices={[['auto', 'by its size'], ...as('0', '1', '2', '3')]}
            onChange={set('energyDigits')}
          />
          <Setting
            label="A week begins on"
            value={settings.weekStartsOn}
            choices={[
              [1, 'Monday'],
              [0, 'Sunday'],
              [6, 'Saturday'],
            ]}
            onChange={set('weekStartsOn')}
          />
          <p className="mt-1 text-faint">
            It looks like this: {decimal(12345.6, 1)} kWh on {dateText('2024-09-14', 'plain')}, at{' '}
            {temperatureText(21.5, 1)}.
          </p>
        </section>
        <section aria-label="What leads" className="mt-4">
          <h2 className="text-[16px]">What leads</h2>
          <div className="max-w-sm py-1.5">
            <ChoiceField
              text="Which self-sufficiency stands first"
              value={settings.leadingSchool}
              choices={[
                ['grid', 'by the meter: what was not bought'],
                ['supply', 'by supply: what the home gave itself'],
                ['solar', 'of solar origin: what came from the sun'],
              ]}
              onChange={set('leadingSchool')}
            />
          </div>
          <p>
            How much a day may import and still count as grid-free belongs to the home:{' '}
            <Link className="quiet" to={`/h/${home.id}/system`}>
              set it under System
            </Link>
            .
          </p>
        </section>
      </div>
    </main>
  );
}
