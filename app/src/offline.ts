import { registerSW } from 'virtual:pwa-register';

/** So long a newer build may take to be fetched before the page is loaded all the same, ms. */
const PATIENCE_MS = 8000;

let take: ((reload?: boolean) => Promise<void>) | null = null;
let registration: ServiceWorkerRegistration | undefined;

/** Keeps the application for times without its server, where the browser can; what it shows stays until its reader takes a newer one. */
export function keepOffline(): void {
  if (!('serviceWorker' in navigator)) return;
  take = registerSW({
    immediate: true,
    onRegisteredSW: (_url, own) => {
      registration = own;
    },
  });
}

/** Loads the newest build, that which is kept for times without a server included. */
export async function loadNewest(): Promise<void> {
  try {
    await registration?.update();
    if (registration?.waiting ?? registration?.installing) {
      setTimeout(() => window.location.reload(), PATIENCE_MS);
      await take?.(true);
      return;
    }
  } catch {
    // Without its server there is nothing newer: the page is loaded as it is kept.
  }
  window.location.reload();
}
