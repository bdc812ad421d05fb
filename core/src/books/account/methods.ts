import type { Method } from '../../model/figure.js';

const ACCOUNT =
  'Energy balance of the AC bus: common practice, no published source. Uncertainty: GUM (JCGM 100:2008).';
const LUTHANDER =
  'R. Luthander, J. Widén, D. Nilsson, J. Palm, "Photovoltaic self-consumption in buildings: A review", Applied Energy 142 (2015).';

/** The methods of the account, by what they compute. */
export const METHODS = {
  total: { id: 'account.total', formula: 'Σ mean power × length of the interval', source: ACCOUNT },
  storeChange: {
    id: 'account.store-change',
    formula: '(SOC at end − SOC at start) × usable capacity',
    source: ACCOUNT,
  },
  losses: {
    id: 'account.losses',
    formula: 'solar + import − load − export − change in store',
    source: ACCOUNT,
  },
  closing: {
    id: 'account.closing',
    formula: 'solar + import + discharge − load − export − charge',
    source: ACCOUNT,
  },
  closingShare: {
    id: 'account.closing-share',
    formula: 'closing error ÷ (solar + import + discharge)',
    source: ACCOUNT,
  },
  trickle: {
    id: 'account.trickle',
    formula: 'Σ import below 60 W while solar or battery carries the load ÷ days measured',
    source: 'Common practice, no published source.',
  },
  grid: {
    id: 'self-sufficiency.grid',
    formula: '1 − import ÷ load',
    source: `By the utility meter; ${LUTHANDER}`,
  },
  supply: {
    id: 'self-sufficiency.supply',
    formula: '(solar to load + discharge to load) ÷ load, solar first',
    source: `M = min(load, solar + store output), self-sufficiency = ΣM ÷ Σload: ${LUTHANDER}`,
  },
  solar: {
    id: 'self-sufficiency.solar',
    formula: '(solar to load + solar-origin discharge to load) ÷ load',
    source: LUTHANDER,
  },
  selfConsumption: { id: 'self-consumption', formula: '(solar − solar exported) ÷ solar', source: LUTHANDER },
  gridFree: {
    id: 'grid-free-days',
    formula: 'days with import ≤ the home’s limit (0.5 kWh where none is stated) and coverage ≥ 90 %',
    source: 'Common practice, no published source: limits from 0.3 to 1 kWh are in use.',
  },
  beyondTrickle: {
    id: 'grid-free-days.beyond-trickle',
    formula:
      'days with import − standby trickle ≤ the home’s limit (0.5 kWh where none is stated) and coverage ≥ 90 %',
    source: 'Common practice, no published source.',
  },
} as const satisfies Record<string, Method>;
