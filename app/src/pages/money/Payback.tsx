import type { PaybackFan } from '@long-tally/core';
import { paybackRows } from '../../charts/chartRows.js';
import { PaybackChart } from '../../charts/PaybackChart.js';
import { Saveable } from '../../ui/Saveable.js';
import { useWidth } from '../../ui/useSize.js';

/** What is saved less what was paid, year by year. */
export function Payback({ fan, currency }: { readonly fan: PaybackFan; readonly currency: string }) {
  const [ref, width] = useWidth<HTMLDivElement>();
  return (
    <section aria-label="Payback" className="mt-4">
      <h2 className="text-[16px]">Saved less paid{currency && `, ${currency}`}</h2>
      <div ref={ref} className="max-w-4xl">
        {width > 0 && (
          <Saveable title="When it is paid back" rows={() => paybackRows(fan, currency)}>
            <PaybackChart fan={fan} currency={currency} width={width} />
          </Saveable>
        )}
      </div>
      <p className="max-w-3xl text-[13px] text-faint">
        At the saving a year of this range, less upkeep, without price rises: the band is its interval. The
        mark is what has been saved by the end of the range.
      </p>
    </section>
  );
}
