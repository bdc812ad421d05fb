import { useRef } from 'react';
import { useSearchParams } from 'react-router';
import { chartFile, pngOf } from '../charts/chartFile.js';
import { save, stemOf } from './download.js';
import { dateText } from './format.js';
import { useOverview } from './HomeLayout.js';
import { useWrite } from './useWrite.js';

interface Props {
  /** What the chart shows, as it stands above it in the file. */
  readonly title: string;
  readonly children: React.ReactNode;
}

/** A chart that can be saved as a picture, with its title, its range and its source. */
export function Saveable({ title, children }: Props) {
  const chart = useRef<HTMLDivElement>(null);
  const { home } = useOverview();
  const [params] = useSearchParams();
  const { write, failure } = useWrite();
  const [from, to] = [params.get('from'), params.get('to')];
  const range = from && to ? `${dateText(from, 'plain')} to ${dateText(to, 'plain')}` : 'the range as opened';
  const saved = (kind: 'svg' | 'png') =>
    write(async () => {
      const drawing = chart.current!.querySelector('svg')!;
      const file = chartFile(drawing, title, [
        `${home.system.name}, ${range}.`,
        'Drawn with Long Tally from its log.',
      ]);
      const name = `${stemOf(home)}-${title
        .toLowerCase()
        .replace(/[^a-z0-9]+/g, '-')
        .slice(0, 60)}.${kind}`;
      save(name, kind === 'svg' ? new Blob([file.svg], { type: 'image/svg+xml' }) : await pngOf(file));
    });
  return (
    <div>
      <div ref={chart}>{children}</div>
      <p className="no-print mt-1 flex justify-end gap-3 text-[12px] text-faint">
        {(['svg', 'png'] as const).map((kind) => (
          <button
            key={kind}
            type="button"
            className="hover:underline"
            aria-label={`Save “${title}” as ${kind.toUpperCase()}`}
            onClick={() => void saved(kind)}
          >
            save as {kind.toUpperCase()}
          </button>
        ))}
      </p>
      {failure}
    </div>
  );
}
