import type { WearView } from '@long-tally/core';
import { Link } from 'react-router';
import { WarrantyClocks } from '../../charts/WarrantyClocks.js';
import type { Home } from '../../db/database.js';
import { decimal, localDateText } from '../../ui/format.js';
import { clockRows } from '../../charts/chartRows.js';
import { Saveable } from '../../ui/Saveable.js';

interface Props {
  readonly course: WearView;
  readonly home: Home;
  readonly nowMs: number;
  readonly width: number;
}

/** The limits of the warranty on one axis of time, at the use of the last year. */
export function Warranty({ course: { warranty }, home, nowMs, width }: Props) {
  return (
    <section aria-label="Warranty" className="mt-4">
      <h2 className="text-[16px]">The warranty’s clocks</h2>
      {warranty && warranty.clocks.length > 0 ? (
        <>
          <p className="mb-1 text-faint">
            {warranty.isOffGrid ? 'off-grid terms' : 'terms'} from{' '}
            {localDateText(warranty.beginsMs, home.system.timeZone)}, at the use of the last 365 days
            {warranty.usedADayKWh !== null &&
              `: ${decimal(warranty.usedADayKWh, 1)} kWh a day out of the battery`}
            {warranty.allowedADayKWh !== null &&
              `; ${decimal(warranty.allowedADayKWh, 1)} kWh a day would use the throughput up just as the years end`}
          </p>
          <Saveable title="The warranty’s clocks" rows={() => clockRows(warranty)}>
            <WarrantyClocks warranty={warranty} nowMs={nowMs} width={width} />
          </Saveable>
        </>
      ) : (
        <p className="text-faint">
          No warranty is described.{' '}
          <Link className="quiet" to={`/h/${home.id}/system`}>
            Enter its years, throughput and cycles in the system
          </Link>
          .
        </p>
      )}
    </section>
  );
}
