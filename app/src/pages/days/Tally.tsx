import type { RangeReport, RollDay, DayRange } from '@long-tally/core';
import { memo } from 'react';
import { Link, useParams } from 'react-router';
import { Balance } from '../../ui/Balance.js';
import { Figures } from '../../ui/Figures.js';
import { Findings } from '../../ui/Findings.js';
import { counted, decimal } from '../../ui/format.js';
import { schoolsFrom } from '../../ui/schools.js';
import { rangeTitle } from '../../ui/useRange.js';
import { useSettings } from '../../ui/useSettings.js';
import { useWorking } from '../../ui/useWorking.js';
import { DayNotes } from './DayNotes.js';

/** What every selection leads with beside self-sufficiency; the others follow under the working. */
const LEADING = ['losses.roundTrip.fullToFull', 'wear.efc.nameplate', 'wear.depth.mean'];
const OTHERS = [
  'losses.roundTrip.counter',
  'account.selfConsumption',
  'wear.depth.max',
  'account.gridFreeDays',
  'account.trickle',
  'peak.headroom.batteryOnly',
  'account.closingError',
  'wear.throughput',
  'wear.soc.mean',
  'peak.load',
  'wear.efc.usable',
  'wear.efc.both',
];
const FINDINGS_SHOWN = 6;

interface Props {
  readonly report: RangeReport;
  readonly days: readonly RollDay[];
  readonly range: DayRange;
}

/** The tally of the selection: the account, the figures with their intervals, the working of one, and what is worth a look. */
export const Tally = memo(function Tally({ report, days, range }: Props) {
  const { homeId = '' } = useParams();
  const schools = schoolsFrom(useSettings().leadingSchool);
  const { workingKey, open, panel } = useWorking(report, schools[0]!);
  const only = range.from === range.to ? days[range.from]! : null;
  return (
    <aside
      aria-label="Tally of the selection"
      className="px-4 pt-3 pb-6 lg:min-h-0 lg:overflow-y-auto"
      tabIndex={0}
    >
      <h1 className="text-[18px]">{rangeTitle(days, range)}</h1>
      <p className="mb-2 text-faint">
        {counted(range.to - range.from + 1, 'day')} · coverage {decimal(report.coverage.share * 100, 1)} % ·
        step {decimal(report.coverage.stepSeconds / 60, report.coverage.stepSeconds % 60 ? 1 : 0)} min · times
        in {report.range.timeZone}
        {!only && (
          <>
            {' · '}
            <Link className="quiet" to={`/h/${homeId}/summary`}>
              what the log says
            </Link>
          </>
        )}
        {only && (
          <>
            {' · '}
            <Link className="quiet" to={`/h/${homeId}/day/${only.date}`}>
              open the day
            </Link>
          </>
        )}
      </p>
      {only && only.notes.length > 0 && (
        <p className="mb-2">
          <DayNotes notes={only.notes} timeZone={report.range.timeZone} />
        </p>
      )}
      <Balance figures={report.figures} onOpen={open} />
      <Figures keys={[...schools, ...LEADING]} report={report} workingKey={workingKey} onOpen={open} />
      {panel}
      <Findings findings={report.findings} most={FINDINGS_SHOWN} />
      <h2 className="mt-4 mb-1 text-[15px]">Further figures</h2>
      <Figures keys={OTHERS} report={report} workingKey={workingKey} onOpen={open} />
    </aside>
  );
});
