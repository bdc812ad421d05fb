/** Why an output stopped, or a load went over to the grid. */
export const CAUSES = {
  leg: 'a leg above its limit',
  total: 'the load above the limit',
  jump: 'a jump of the load',
  'low-charge': 'too little charge',
  fault: 'a fault that was reported',
  unknown: 'a cause that does not show',
} as const;
