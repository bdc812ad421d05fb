import type { WhatifBase, WhatifScenario } from '@long-tally/core';
import { coursesInWords, ScenarioCourses, type DrawnRun } from '../../charts/ScenarioCourses.js';
import { lineOf } from '../../charts/SurvivalCurve.js';
import { timeTicks } from '../../charts/timeTicks.js';
import { localDateText, momentText } from '../../ui/format.js';
import { Saveable } from '../../ui/Saveable.js';
import { useWidth } from '../../ui/useSize.js';
import { courseRows } from '../../charts/chartRows.js';

const HOUR_MS = 3_600_000;
const DAY_TICKS = [0, 6, 12, 18, 24].map((hour) => ({
  hour,
  text: `${String(hour % 24).padStart(2, '0')}:00`,
}));

interface Props {
  readonly base: WhatifBase;
  readonly scenarios: readonly WhatifScenario[];
  readonly hasGrid: boolean;
  readonly timeZone: string;
}

/** A typical day and the worst week, as logged, as modelled and as each scenario has them, on one axis. */
export function Courses({ base, scenarios, hasGrid, timeZone }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const missing = hasGrid ? 'bought' : 'not served';
  const { week } = base;
  const drawn = (
    logged: WhatifBase['loggedDay'],
    of: (run: WhatifBase | WhatifScenario) => WhatifBase['worstWeek'],
  ) =>
    [
      { name: 'logged', hours: logged },
      { name: 'modelled as it is', hours: of(base) },
      ...scenarios.map((run) => ({ name: run.name, hours: of(run) })),
    ].flatMap(({ name, hours }, place): DrawnRun[] =>
      hours
        ? [{ name, hours, ...(place === 0 ? { ink: 'var(--faint)', dash: '' } : lineOf(place - 1)) }]
        : [],
    );
  const days = drawn(base.loggedDay, (run) => run.typicalDay);
  const weeks = drawn(base.loggedWeek, (run) => run.worstWeek);
  return (
    <section aria-label="A typical day and the worst week" className="mt-5">
      <h2 className="text-[16px]">A typical day and the worst week</h2>
      <ul className="flex flex-wrap gap-x-5 text-[13px]">
        {days.map(({ name, ink, dash }) => (
          <li key={name} className="flex items-center gap-1.5">
            <svg width="30" height="8" aria-hidden>
              <path d="M0 4H30" stroke={ink} strokeDasharray={dash} strokeWidth="2" />
            </svg>
            {name}
          </li>
        ))}
      </ul>
      <div ref={ref} className="mt-1 flex flex-wrap gap-x-6">
        {width > 0 && (
          <figure>
            <figcaption className="text-faint">
              The mean day of the range, by the clock of the home
            </figcaption>
            <Saveable
              title="A typical day"
              rows={() => courseRows(days, missing, (hour) => `${String(hour).padStart(2, '0')}:00`)}
            >
              <ScenarioCourses
                label={`The mean day. ${coursesInWords(days, missing)}`}
                runs={days}
                ticks={DAY_TICKS}
                missing={missing}
                width={width < 700 ? width : 0.36 * width}
              />
            </Saveable>
          </figure>
        )}
        {width > 0 && week && (
          <figure>
            <figcaption className="text-faint">
              The week from {localDateText(week.fromMs, timeZone)}, in which the home as it is lacks most
            </figcaption>
            <Saveable
              title="The worst week"
              rows={() =>
                courseRows(weeks, missing, (hour) => momentText(week.fromMs + hour * HOUR_MS, timeZone))
              }
            >
              <ScenarioCourses
                label={`The worst week. ${coursesInWords(weeks, missing)}`}
                runs={weeks}
                ticks={timeTicks(week.fromMs, week.toMs, timeZone, 7).map(({ ms, text }) => ({
                  hour: (ms - week.fromMs) / HOUR_MS,
                  text,
                }))}
                missing={missing}
                width={width < 700 ? width : 0.6 * width}
              />
            </Saveable>
          </figure>
        )}
      </div>
    </section>
  );
}
