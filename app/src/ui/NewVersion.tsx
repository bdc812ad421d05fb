import { useEffect, useState } from 'react';
import { z } from 'zod';
import { loadNewest } from '../offline.js';

declare const __BUILD__: string;

const EVERY_MS = 5 * 60_000;
const schema = z.object({ app: z.literal('long-tally'), build: z.string() });

/** Which build the server hands out now; null when it does not answer. */
async function buildThere(): Promise<string | null> {
  try {
    const response = await fetch('/version.json', { cache: 'no-store' });
    return response.ok ? schema.parse(await response.json()).build : null;
  } catch {
    return null;
  }
}

/** Offers a newer build when the server has one; what is open goes on as it is until its reader takes it. */
export function NewVersion() {
  const [isNewer, setNewer] = useState(false);
  const [later, setLater] = useState(false);
  useEffect(() => {
    const look = async () => {
      const build = await buildThere();
      if (build !== null && build !== __BUILD__) setNewer(true);
    };
    const seen = () => void (document.visibilityState === 'visible' && look());
    const timer = setInterval(() => void look(), EVERY_MS);
    document.addEventListener('visibilitychange', seen);
    window.addEventListener('focus', seen);
    return () => {
      clearInterval(timer);
      document.removeEventListener('visibilitychange', seen);
      window.removeEventListener('focus', seen);
    };
  }, []);
  if (!isNewer || later) return null;
  return (
    <p role="status" className="no-print border-b border-rule-2 px-5 py-1">
      A newer version of Long Tally is there. What is stored stays.{' '}
      <button type="button" className="quiet" onClick={() => void loadNewest()}>
        Load it
      </button>{' '}
      <button type="button" className="quiet text-faint" onClick={() => setLater(true)}>
        later
      </button>
    </p>
  );
}
