/** What to mind before relying on the battery in an outage. */
export const CAUTIONS = [
  'Run the home from the battery only through the installed and approved isolating gear. Never feed a dead grid.',
  'Know before a storm which circuits are backed up. Someone who depends on powered medical equipment plans with the supplier and the grid company, not with this page.',
  'Add loads in steps and stay below the battery-only rating, per leg as well as in total: motors draw several times their running power when they start.',
  'Below about 10 % many inverters limit their output. Stop above the cut-off and recharge the same day; a restart from empty may need a procedure of its own, see the manual.',
];
