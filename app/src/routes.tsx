import { createBrowserRouter } from 'react-router';
import { Failure } from './ui/Failure.js';

/** Each view is loaded when it is first opened. */
const page = (load: () => Promise<{ default: React.ComponentType }>) => async () => ({
  Component: (await load()).default,
});

export const router = createBrowserRouter([
  {
    ErrorBoundary: Failure,
    HydrateFallback: () => null,
    children: [
      { path: '/', lazy: page(() => import('./pages/welcome/Page.js')) },
      { path: '/homes', lazy: page(() => import('./pages/homes/Page.js')) },
      { path: '/new', lazy: page(() => import('./pages/system/NewHome.js')) },
      {
        path: '/h/:homeId',
        lazy: async () => ({ Component: (await import('./ui/HomeLayout.js')).HomeLayout }),
        children: [
          {
            // A view that breaks or cannot be loaded leaves the frame and the other views as they are.
            ErrorBoundary: Failure,
            children: [
              { path: 'days', lazy: page(() => import('./pages/days/Page.js')) },
              { path: 'account', lazy: page(() => import('./pages/account/Page.js')) },
              { path: 'losses', lazy: page(() => import('./pages/losses/Page.js')) },
              { path: 'wear', lazy: page(() => import('./pages/wear/Page.js')) },
              { path: 'outages', lazy: page(() => import('./pages/outages/Page.js')) },
              { path: 'trials/appliances', lazy: page(() => import('./pages/trials/Appliances.js')) },
              { path: 'outages/stops/:at', lazy: page(() => import('./pages/outages/OpenedStop.js')) },
              { path: 'outages/:at', lazy: page(() => import('./pages/outages/Opened.js')) },
              { path: 'summary', lazy: page(() => import('./pages/summary/Page.js')) },
              { path: 'money', lazy: page(() => import('./pages/money/Page.js')) },
              { path: 'what-if', lazy: page(() => import('./pages/whatif/Page.js')) },
              { path: 'trials', lazy: page(() => import('./pages/trials/Page.js')) },
              { path: 'trials/:trialId', lazy: page(() => import('./pages/trials/Trial.js')) },
              { path: 'outage-sheet', lazy: page(() => import('./pages/outages/Sheet.js')) },
              { path: 'day/:date', lazy: page(() => import('./pages/day/Page.js')) },
              { path: 'system', lazy: page(() => import('./pages/system/Page.js')) },
              { path: 'sources', lazy: page(() => import('./pages/sources/Page.js')) },
              { path: 'readings', lazy: page(() => import('./pages/readings/Page.js')) },
              { path: 'journal', lazy: page(() => import('./pages/journal/Page.js')) },
              { path: 'report', lazy: page(() => import('./pages/report/Page.js')) },
              { path: 'settings', lazy: page(() => import('./pages/settings/Page.js')) },
              { path: 'handbook/:topic?', lazy: page(() => import('./pages/handbook/Page.js')) },
              { path: '*', lazy: page(() => import('./pages/UnknownView.js')) },
            ],
          },
        ],
      },
      { path: '*', lazy: page(() => import('./pages/welcome/Page.js')) },
    ],
  },
]);
