/** The sources of the home's energy, and the figures of where each went, with their letters and colours. */
export const FLOW_ROWS = [
  {
    source: 'S solar gave',
    flows: [
      ['account.flow.solarToLoad', 'load', 'var(--home)'],
      ['account.flow.solarToStore', 'store', 'var(--battery)'],
      ['account.flow.solarToExport', 'grid', 'var(--grid)'],
    ],
  },
  {
    source: 'B store gave',
    flows: [
      ['account.flow.storeToLoad', 'load', 'var(--home)'],
      ['account.flow.storeToExport', 'grid', 'var(--grid)'],
    ],
  },
  {
    source: 'G grid gave',
    flows: [
      ['account.flow.gridToLoad', 'load', 'var(--home)'],
      ['account.flow.gridToStore', 'store', 'var(--battery)'],
    ],
  },
] as const;
