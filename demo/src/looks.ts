/** What is worth a look in each demo home, and where it stands: a path within the home. */
export const LOOKS: Readonly<Record<string, readonly { readonly says: string; readonly path: string }[]>> = {
  'kauri-bend': [
    { says: 'why June 2024 bought the most', path: 'days?from=2024-06-01&to=2024-06-30' },
    { says: 'an idle draw that rose after new firmware', path: 'losses?from=2022-03-01&to=2025-02-28' },
    {
      says: 'outages, and how long the next would be carried',
      path: 'outages?from=2022-03-01&to=2025-02-28',
    },
    { says: 'what another module would have done', path: 'what-if?from=2024-01-01&to=2024-12-31' },
  ],
  'koca-pod-skalo': [
    { says: 'what the two inverters draw', path: 'losses' },
    { says: 'how deep the winter went', path: 'wear' },
    { says: 'how long the charge lasts', path: 'outages' },
    { says: 'sun that found no use', path: 'what-if' },
  ],
  'casa-da-azenha': [
    { says: 'an inverter and a meter that disagree', path: 'sources' },
    { says: 'what the battery saves', path: 'money' },
    { says: 'a month of hourly prices', path: 'money?from=2024-09-01&to=2024-09-30' },
    { says: 'where the losses go', path: 'losses' },
  ],
  'juniper-wash': [
    { says: 'every time the house went dark, and why', path: 'outages' },
    { says: 'sun held back by the frequency', path: 'losses' },
    { says: 'the load of each leg', path: 'outages' },
    { says: 'a day by the second', path: 'days' },
  ],
  'larch-row': [
    { says: 'two statements that differ', path: 'sources' },
    { says: 'two roofs and a car', path: 'account' },
    { says: 'readings typed by hand', path: 'readings' },
    { says: 'self-sufficiency by each school', path: 'account' },
  ],
};
