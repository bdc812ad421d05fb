import { Disclosure, DisclosureButton, DisclosurePanel } from '@headlessui/react';
import { ChevronRight } from 'lucide-react';

interface Props {
  readonly title: string;
  /** What is in it, told while it is closed. */
  readonly holds?: string;
  readonly isOpen?: boolean;
  /** Opens it whatever the reader has closed: something in it is to be mended. */
  readonly mustOpen?: boolean;
  readonly className?: string;
  readonly children: React.ReactNode;
}

/** A section that opens at its heading. What is typed in it stays while it is closed. */
export function Fold({
  title,
  holds = '',
  isOpen = false,
  mustOpen = false,
  className = '',
  children,
}: Props) {
  return (
    <Disclosure as="div" defaultOpen={isOpen} className={className}>
      {({ open }) => (
        <>
          <DisclosureButton className="flex items-baseline gap-1.5 text-left text-[13.5px] font-semibold">
            <ChevronRight
              size={13}
              aria-hidden
              className={`shrink-0 self-center ${open || mustOpen ? 'rotate-90' : ''}`}
            />
            <span>
              {title}
              {!open && holds !== '' && <span className="font-normal text-faint"> {holds}</span>}
            </span>
          </DisclosureButton>
          <DisclosurePanel static hidden={!open && !mustOpen}>
            {children}
          </DisclosurePanel>
        </>
      )}
    </Disclosure>
  );
}
