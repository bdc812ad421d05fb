import { useRef } from 'react';
import { CopyButton } from './CopyButton.js';
import { tableText } from './tableText.js';

/** A table that can be copied, to be pasted into a spreadsheet; the way to it shows under it for a pointer or a focus. */
export function Table({ className = '', children, ...table }: React.ComponentProps<'table'>) {
  const ref = useRef<HTMLTableElement>(null);
  return (
    <div className={`group/table ${className.includes('w-full') ? '' : 'w-fit max-w-full'}`}>
      <table {...table} ref={ref} className={className}>
        {children}
      </table>
      <CopyButton
        says="copy the table"
        textOf={() => tableText(ref.current!)}
        className="no-print ml-auto block leading-4 text-faint opacity-0 group-hover/table:opacity-100 pointer-coarse:opacity-100 focus-visible:opacity-100"
      />
    </div>
  );
}
