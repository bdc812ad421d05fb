import { useEffect, useState } from 'react';
import { flushSync } from 'react-dom';

/** True while the page is being printed: it is drawn anew before the browser lays it out on paper. */
export function usePrinting(): boolean {
  const [isPrinting, setPrinting] = useState(false);
  useEffect(() => {
    const begin = () => flushSync(() => setPrinting(true));
    const end = () => setPrinting(false);
    window.addEventListener('beforeprint', begin);
    window.addEventListener('afterprint', end);
    return () => {
      window.removeEventListener('beforeprint', begin);
      window.removeEventListener('afterprint', end);
    };
  }, []);
  return isPrinting;
}
