import type { Alternative, Conclusion } from '@long-tally/core';

interface Props {
  readonly conclusion: Conclusion;
  readonly isOpen: boolean;
  /** Called with the chosen alternative, or null when it stays as proposed. */
  readonly onAnswer: (alternative: Alternative | null) => void;
}

/** What speaks for a conclusion; a question with its answers where the data leave it open. */
export function Evidence({ conclusion: { says, evidence, alternatives }, isOpen, onAnswer }: Props) {
  if (!isOpen) {
    const text = evidence.join('; ');
    return <p className="text-[12.5px] text-faint">{text.charAt(0).toUpperCase() + text.slice(1)}.</p>;
  }
  return (
    <div className="border-l-4 border-red pl-2 text-[13px]">
      <p>
        <b className="font-semibold">The data leave this open:</b> {evidence.join('; ')}.
      </p>
      <p className="flex flex-wrap gap-x-4">
        <button type="button" className="quiet" onClick={() => onAnswer(null)}>
          It is {says}
        </button>
        {alternatives.map((alternative) => (
          <button
            key={alternative.says}
            type="button"
            className="quiet"
            onClick={() => onAnswer(alternative)}
          >
            It is {alternative.says}
          </button>
        ))}
      </p>
    </div>
  );
}
