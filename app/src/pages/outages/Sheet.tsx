import { configurationsOf, describedRunsOn, type LoadPart, type RunsOn } from '@long-tally/core';
import { useId, useState } from 'react';
import { Link, useLocation } from 'react-router';
import { atOf, useOutagesQuery } from '../../store/api.js';
import { decimal } from '../../ui/format.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { Labelled } from '../../ui/Labelled.js';
import { NumberField } from '../../ui/NumberField.js';
import { NoLog } from '../../ui/NoLog.js';
import { useRange } from '../../ui/useRange.js';
import type { Roll } from '../../protocol.js';
import type { Home } from '../../db/database.js';
import { CAUTIONS } from './cautions.js';
import { LastsTable, usualLevels, usualOf } from './LastsTable.js';
import { typedNumber } from '../../ui/typedNumber.js';

const BLANKS = [
  'Electrician or installer',
  'Grid company, faults',
  'Neighbour',
  'Medical equipment supplier',
];

/** One page for whoever is at home when the grid is gone. */
export default function SheetPage() {
  const { home, roll } = useOverview();
  if (roll) return <Sheet home={home} roll={roll} />;
  const runsOn = describedRunsOn(home.system);
  return runsOn ? (
    <Frame home={home}>
      <Written home={home} runsOn={runsOn} usualW={null} parts={[]} />
    </Frame>
  ) : (
    <NoLog home={home} />
  );
}

/** The page around the sheet, with the way back. */
function Frame({ home, children }: { readonly home: Home; readonly children: React.ReactNode }) {
  const { search } = useLocation();
  return (
    <main id="view" className="min-h-0 flex-1 overflow-y-auto px-5 py-4 print:overflow-visible print:p-0">
      <p className="mb-3 print:hidden">
        <Link className="quiet" to={`/h/${home.id}/outages${search}`}>
          back to the outages
        </Link>
      </p>
      {children}
    </main>
  );
}

function Sheet({ home, roll }: { readonly home: Home; readonly roll: Roll }) {
  const [range] = useRange(roll.days, 'all');
  const { currentData: course } = useOutagesQuery({
    at: atOf(home),
    from: roll.days[range.from]!.date,
    to: roll.days[range.to]!.date,
  });
  return (
    <Frame home={home}>
      {course?.runsOn ? (
        <Written home={home} runsOn={course.runsOn} usualW={usualOf(course.figures)} parts={course.parts} />
      ) : (
        <>
          <h1 className="text-xl">Outage sheet of {home.system.name}</h1>
          <p className="mt-2 text-faint" role="status">
            {course
              ? 'The sheet needs the battery’s capacity: describe it in the System view.'
              : 'Working out what the battery carries …'}
          </p>
        </>
      )}
    </Frame>
  );
}

interface Props {
  readonly home: Home;
  readonly runsOn: RunsOn;
  /** Mean load of the last weeks; null without a log. */
  readonly usualW: number | null;
  readonly parts: readonly LoadPart[];
}

function Written({ home, runsOn, usualW: measuredW, parts }: Props) {
  const id = useId();
  const [levels, setLevels] = useState(() =>
    usualLevels(measuredW).map(({ name, watts }) => ({ name, watts: String(watts) })),
  );
  const [stays, setStays] = useState('Fridge and freezer\nLight in the kitchen and hall\nRouter and phones');
  const [off, setOff] = useState(
    [
      ...parts.map(({ name }) => capital(name)),
      'Oven and hob',
      'Kettle, iron, hair dryer',
      'Electric heating, water heater',
      'Car charger',
    ]
      .slice(0, 6)
      .join('\n'),
  );
  const { islandW, perLegW } = configurationsOf(home.system).at(-1)!.limits;
  const cutOff = `${decimal(100 * runsOn.cutOff, 0)} %`;
  return (
    <>
      <div className="mb-4 grid max-w-4xl gap-4 sm:grid-cols-2 print:hidden">
        <Labelled id={`${id}-stays`} text="What stays on, a line each">
          <textarea
            id={`${id}-stays`}
            className="field"
            rows={4}
            value={stays}
            onChange={(event) => setStays(event.target.value)}
          />
        </Labelled>
        <Labelled id={`${id}-off`} text="What to switch off first, a line each">
          <textarea
            id={`${id}-off`}
            className="field"
            rows={4}
            value={off}
            onChange={(event) => setOff(event.target.value)}
          />
        </Labelled>
        <div className="col-span-full flex flex-wrap items-end gap-4">
          {levels.map((level, k) => (
            <NumberField
              key={k}
              text={`${level.name}, W`}
              className="w-40"
              value={level.watts}
              onChange={(watts) => setLevels(levels.with(k, { ...level, watts }))}
            />
          ))}
          <button type="button" className="action" onClick={() => window.print()}>
            Print this sheet
          </button>
        </div>
      </div>
      <article
        aria-label="Outage sheet"
        className="sheet max-w-4xl border border-rule-2 p-5 print:border-0 print:p-0"
      >
        <h1 className="text-[22px]">When the grid is gone: {home.system.name}</h1>
        <p className="text-faint">
          Times to expect, not to rely on. Without sun; with it the battery lasts longer.
        </p>
        <h2 className="mt-3 text-[16px]">How long the battery lasts</h2>
        <LastsTable
          levels={levels.map(({ name, watts }) => ({ name, watts: typedNumber(watts) }))}
          runsOn={runsOn}
        />
        <div className="mt-4 grid gap-6 sm:grid-cols-2 print:grid-cols-2">
          <Lines title="What stays on" text={stays} />
          <Lines title="What to switch off first" text={off} />
        </div>
        <h2 className="mt-4 text-[16px]">What to do</h2>
        <ul className="list-disc pl-5">
          <li>
            The charge stands on the inverter’s or battery’s display as “SOC” in %. Note it when the grid
            goes, and every few hours. Where the display is: <Blank />
          </li>
          {islandW !== null && (
            <li>
              Never more than {decimal(islandW / 1000, 1)} kW at a time
              {perLegW === null ? '' : `, and ${decimal(perLegW / 1000, 1)} kW on one leg`}: one big appliance
              at a time. Motors take several times as much when they start.
            </li>
          )}
          <li>
            At 20 %: switch off everything but one light and what must not stop; some inverters already give
            less.
          </li>
          <li>
            At about {cutOff} the battery switches off. Before that, shut down computers. Then leave the main
            switch of the battery as it is and wait for the sun or the grid; restarting from empty may need a
            procedure, see the manual, kept at: <Blank />
          </li>
          <li>When the grid is back: recharge the same day, and note when it went and came.</li>
        </ul>
        <h2 className="mt-4 text-[16px]">Mind</h2>
        <ul className="list-disc pl-5 text-[13px]">
          {CAUTIONS.map((text) => (
            <li key={text}>{text}</li>
          ))}
          <li>
            Open no covers: the battery’s cables stay live with everything switched off. After a trip, find
            out why before you switch on again.
          </li>
          <li>
            At a smell, smoke, heat or an unusual noise: leave the room, call the fire brigade, do not go
            back.
          </li>
        </ul>
        <h2 className="mt-4 text-[16px]">Whom to call</h2>
        <div className="grid gap-x-6 sm:grid-cols-2 print:grid-cols-2">
          {BLANKS.map((name) => (
            <p key={name} className="mt-2 border-b border-ink pb-3">
              {name}:
            </p>
          ))}
        </div>
        <p className="mt-3 text-[12px] text-faint">
          From {decimal(runsOn.fullWh / 1000, 1)} kWh from full to empty, off at {cutOff},{' '}
          {decimal(runsOn.parameters.idleW, 0)} W drawn on top of the load. Local electrical codes and the
          equipment’s manual lead; this sheet replaces neither.
        </p>
      </article>
    </>
  );
}

function Lines({ title, text }: { readonly title: string; readonly text: string }) {
  return (
    <section>
      <h2 className="text-[16px]">{title}</h2>
      <ul className="list-disc pl-5">
        {text
          .split('\n')
          .filter((line) => line.trim() !== '')
          .map((line) => (
            <li key={line}>{line}</li>
          ))}
      </ul>
    </section>
  );
}

function Blank() {
  return <span className="inline-block w-44 border-b border-ink" />;
}

function capital(name: string): string {
  return `${name.charAt(0).toUpperCase()}${name.slice(1)}`;
}
