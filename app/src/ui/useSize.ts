import { useEffect, useRef, useState } from 'react';
import { usePrinting } from './usePrinting.js';

/** What is drawn fits on paper: A4 and Letter are wider than this between their margins, px. */
const PAPER_WIDTH = 640;

/** The width of an element, followed as it changes, and no more than paper has while it is printed. */
export function useWidth<T extends HTMLElement>(): [React.RefObject<T | null>, number] {
  const ref = useRef<T>(null);
  const [width, setWidth] = useState(0);
  useEffect(() => {
    const element = ref.current;
    if (!element) return;
    const observer = new ResizeObserver(([entry]) => setWidth(entry!.contentRect.width));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  const isPrinting = usePrinting();
  return [ref, isPrinting ? Math.min(PAPER_WIDTH, width) : width];
}
