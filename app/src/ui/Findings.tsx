import type { RangeReport } from '@long-tally/core';
import { decimal } from './format.js';
import { localized } from './localized.js';

interface Props {
  readonly findings: RangeReport['findings'];
  readonly most: number;
}

/** What is worth a look, the most energy first. */
export function Findings({ findings, most }: Props) {
  if (findings.length === 0) return null;
  return (
    <section aria-label="Worth a look">
      <h2 className="mt-4 mb-1 text-[15px]">Worth a look</h2>
      <ul className="text-[13px]">
        {findings.slice(0, most).map(({ code, message, kWh, severity, source }, i) => (
          <li key={`${code}${i}`} className="grid grid-cols-[74px_1fr] gap-x-2.5 border-b border-rule py-0.5">
            <b
              className={`text-right font-semibold ${severity === 'note' && kWh === null ? 'text-faint' : 'text-red'}`}
            >
              {kWh === null ? severity : `${decimal(kWh, kWh < 100 ? 1 : 0)} kWh`}
            </b>
            <span>
              {source ? `${source}: ` : ''}
              {localized(message)}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
