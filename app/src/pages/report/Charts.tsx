import { CapacityChart } from '../../charts/CapacityChart.js';
import { EnergyBars } from '../../charts/EnergyBars.js';
import { atOf, useWearQuery } from '../../store/api.js';
import { useWidth } from '../../ui/useSize.js';
import type { WrittenProps } from './writtenProps.js';

/** As wide as the narrower paper prints. */
const PAPER_WIDTH = 660;

/** The energies of the range as bars. */
export function Energies({ days, range }: WrittenProps) {
  const [ref, width] = useWidth<HTMLDivElement>();
  return (
    <div ref={ref} className="mt-2">
      {width > 0 && <EnergyBars days={days} range={range} width={Math.min(PAPER_WIDTH, width)} />}
    </div>
  );
}

/** Every estimate of the capacity in the range, and the course through them. */
export function CapacityCourse({ home, days, range }: WrittenProps) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const { currentData: course } = useWearQuery({
    at: atOf(home),
    from: days[range.from]!.date,
    to: days[range.to]!.date,
  });
  return (
    <div ref={ref}>
      {width > 0 && course && course.estimates.length > 0 && (
        <CapacityChart course={course} width={Math.min(PAPER_WIDTH, width)} />
      )}
    </div>
  );
}
