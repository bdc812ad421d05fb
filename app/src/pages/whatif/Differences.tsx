import type { Figure, WhatifBase, WhatifFigure, WhatifScenario } from '@long-tally/core';
import { intervalText, valueText } from '../../ui/format.js';
import { ColumnTable } from './ColumnTable.js';
import { boundsText, rowLabel, signedText } from './differenceText.js';

const ROWS = [
  'account.selfSufficiency.supply',
  'account.selfSufficiency.grid',
  'account.selfSufficiency.solar',
  'account.import',
  'account.export',
  'account.gridFreeDays',
  'account.gridFreeShare',
  'whatif.timeWithoutGrid',
  'solar.heldBack',
  'wear.efc.nameplate',
  'wear.damage',
  'outage.survive.12h',
  'outage.survive.24h',
  'peak.hoursAbove.batteryOnly',
  'money.bill',
  'money.saving',
] as const;

/** A value with its interval under it. */
function Held({ figure }: { readonly figure: Figure }) {
  return (
    <>
      {valueText(figure.value!, figure.unit)}
      <span className="block text-[12px] text-faint">{intervalText(figure)}</span>
    </>
  );
}

interface Props {
  readonly base: WhatifBase;
  readonly scenarios: readonly WhatifScenario[];
  readonly currency: string;
}

/** The figures as logged and as modelled, and what each scenario would have changed. */
export function Differences({ base, scenarios, currency }: Props) {
  const rows = ROWS.filter((key) => base.modelled[key]?.value != null);
  return (
    <section aria-label="Scenarios" className="mt-3">
      <h2 className="text-[16px]">What would have changed</h2>
      <ColumnTable
        label="Differences of scenarios"
        corner="figure"
        columns={['logged', 'modelled', ...scenarios.map(({ name }) => name)]}
        rows={rows.map((key) => {
          const own = base.modelled[key]!;
          const logged = base.logged[key];
          return {
            name: rowLabel(key, own.unit, currency),
            cells: [
              logged?.value == null ? '–' : <Held figure={logged} />,
              <Held figure={own} />,
              ...scenarios.map(({ figures }) => <Changed figure={figures[key]!} />),
            ],
          };
        })}
      />
    </section>
  );
}

/** What a scenario changes of a figure, with its bounds, and what it comes to. */
function Changed({ figure }: { readonly figure: WhatifFigure }) {
  const { difference } = figure.basis;
  if (figure.value === null || !difference) return <>–</>;
  return (
    <>
      <b>{signedText(difference.value, figure.unit)}</b>
      <span className="block text-[12px] text-faint">{boundsText(difference, figure.unit)}</span>
      <span className="block text-[12px]">
        comes to {valueText(figure.value, figure.unit)} ({intervalText(figure)})
      </span>
    </>
  );
}
