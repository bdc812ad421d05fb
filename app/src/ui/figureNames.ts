/** How a figure is called, and what the term means in a sentence. */
export interface FigureName {
  readonly name: string;
  readonly means: string;
}

export const FIGURE_NAMES: Readonly<Record<string, FigureName>> = {
  'account.solar': { name: 'Solar', means: 'Energy the arrays gave, where the inverter measures it.' },
  'account.load': { name: 'Load', means: 'Energy the home used.' },
  'account.import': { name: 'Import', means: 'Energy taken from the grid.' },
  'account.export': { name: 'Export', means: 'Energy given to the grid.' },
  'account.charge': { name: 'Charge', means: 'Energy put into the battery.' },
  'account.discharge': { name: 'Discharge', means: 'Energy taken out of the battery.' },
  'account.storeChange': {
    name: 'Change in store',
    means: 'What the battery holds more at the end than at the start.',
  },
  'account.losses': { name: 'Losses', means: 'What came in and neither went out nor is stored.' },
  'account.closingError': {
    name: 'Closing error',
    means: 'Sources less uses at the home’s bus; zero for perfect metering.',
  },
  'account.closingShare': {
    name: 'Closing error, share',
    means: 'The closing error as a share of all that came to the bus.',
  },
  'account.selfSufficiency.grid': {
    name: 'Self-sufficiency, by the meter',
    means: 'The share of the load that was not bought, losses and grid charging counted against it.',
  },
  'account.selfSufficiency.supply': {
    name: 'By supply',
    means: 'The share of the load served by solar and battery, whatever the battery was charged with.',
  },
  'account.selfSufficiency.solar': {
    name: 'Of solar origin',
    means: 'The share of the load served by solar, directly or through the battery.',
  },
  'account.selfConsumption': {
    name: 'Self-consumption',
    means: 'The share of the solar energy that was not exported.',
  },
  'account.gridFreeDays': { name: 'Grid-free days', means: 'Days with no more than 0.5 kWh of import.' },
  'account.gridFreeShare': {
    name: 'Grid-free days, share',
    means: 'Grid-free days as a share of the days covered well enough.',
  },
  'account.trickle': { name: 'Standby trickle', means: 'What the grid gives while the home carries itself.' },
  'losses.roundTrip.fullToFull': {
    name: 'Round trip, full to full',
    means: 'Energy out of the battery for each kWh put in, between full charges.',
  },
  'losses.roundTrip.counter': {
    name: 'Round trip, counters',
    means: 'Energy out for each kWh in over the whole range, corrected for the change in store.',
  },
  'losses.idle.battery': {
    name: 'Idle draw, battery',
    means: 'What the battery’s side draws for itself, day and night.',
  },
  'losses.conversion.discharge': {
    name: 'Conversion',
    means: 'What is lost on the way in and out for each kWh that comes out, beside the idle draw.',
  },
  'losses.idle.inverter': {
    name: 'Idle draw, inverter',
    means: 'What the inverter draws from the battery whatever it serves.',
  },
  'losses.idle.rest': {
    name: 'Drain at rest',
    means: 'What the battery loses while its meter reads nothing.',
  },
  'losses.idle.gridStandby': {
    name: 'Standby from the grid',
    means: 'What the equipment draws from the grid while the battery is parked and there is no sun.',
  },
  'losses.part.idle': { name: 'Lost to idle draw', means: 'The battery’s idle draw over the whole range.' },
  'losses.part.conversion': { name: 'Lost to conversion', means: 'Conversion of all that was discharged.' },
  'losses.part.inverter': {
    name: 'Lost to the inverter',
    means: 'The inverter’s idle draw over the whole range.',
  },
  'losses.unexplained': {
    name: 'Unexplained',
    means: 'What remains of the losses when the fitted parts are taken off; never spread.',
  },
  'account.flow.solarToLoad': { name: 'Solar to load', means: 'Solar used in the moment it was made.' },
  'account.flow.solarToStore': { name: 'Solar to store', means: 'Solar put into the battery.' },
  'account.flow.solarToExport': { name: 'Solar to grid', means: 'Solar given to the grid.' },
  'account.flow.storeToLoad': { name: 'Store to load', means: 'Discharge used by the home.' },
  'account.flow.storeToExport': { name: 'Store to grid', means: 'Discharge given to the grid.' },
  'account.flow.gridToLoad': { name: 'Grid to load', means: 'Import used by the home.' },
  'account.flow.gridToStore': { name: 'Grid to store', means: 'Import put into the battery.' },
  'wear.throughput': { name: 'Throughput', means: 'All energy taken out of the battery.' },
  'wear.efc.nameplate': {
    name: 'Full cycles, nameplate',
    means: 'Equivalent full cycles: discharge divided by nameplate capacity.',
  },
  'wear.efc.usable': {
    name: 'Full cycles, usable',
    means: 'Equivalent full cycles: discharge divided by usable capacity.',
  },
  'wear.efc.warranty': {
    name: 'Full cycles, warranty',
    means: 'Equivalent full cycles: discharge divided by the capacity that the warranty names.',
  },
  'wear.efc.both': {
    name: 'Full cycles, in and out',
    means: 'Equivalent full cycles: mean of charge and discharge divided by nameplate capacity.',
  },
  'wear.depth.mean': {
    name: 'Depth a night',
    means: 'Depth of discharge: how far the state of charge falls in a night, on average.',
  },
  'wear.depth.max': { name: 'Deepest discharge', means: 'The deepest fall of the state of charge.' },
  'wear.soc.mean': {
    name: 'Mean state of charge',
    means: 'How full the battery was on average; batteries kept full age faster.',
  },
  'wear.cycles.rainflow': {
    name: 'Cycles, rainflow',
    means: 'Swings of the state of charge, large and small, each counted once when it closes.',
  },
  'wear.cycles.rainflowDepth': {
    name: 'Full cycles, by charge',
    means:
      'Depths of all swings of the state of charge added up: equivalent full cycles without a power meter.',
  },
  'wear.damage': {
    name: 'Life taken by cycles',
    means: 'Each swing as a share of the cycles the battery lasts at that depth, added up.',
  },
  'wear.timeAbove95': { name: 'Time above 95 %', means: 'Share of the time spent nearly full.' },
  'wear.timeBelow10': { name: 'Time below 10 %', means: 'Share of the time spent nearly empty.' },
  'wear.rate.p50': {
    name: 'Usual charge rate',
    means:
      'Power against nameplate capacity that half of the working time stays below; 1 C empties in an hour.',
  },
  'wear.rate.p95': {
    name: 'High charge rate',
    means: 'Charge rate that 95 % of the working time stays below.',
  },
  'wear.rate.max': { name: 'Highest charge rate', means: 'The highest mean of one interval of the log.' },
  'wear.rate.hoursAboveHalf': { name: 'Time above 0.5 C', means: 'Time of hard work.' },
  'wear.coldCharge': { name: 'Charged below 0 °C', means: 'Energy charged while the battery was freezing.' },
  'wear.hotHours': { name: 'Time above 45 °C', means: 'Time in heat that ages cells.' },
  'capacity.now': {
    name: 'Capacity now',
    means: 'Energy from full to empty on the measuring side, at the end of the range.',
  },
  'capacity.stateOfHealth': {
    name: 'State of health',
    means: 'Capacity now as a share of what it is measured against.',
  },
  'capacity.stateOfHealth.trial': {
    name: 'Health, trial',
    means: 'Capacity now as a share of what the commissioning trial gave.',
  },
  'capacity.stateOfHealth.firstDays': {
    name: 'Health, first 90 days',
    means: 'Capacity now as a share of what it was when this configuration began.',
  },
  'capacity.stateOfHealth.nameplate': {
    name: 'Health, nameplate',
    means: 'Capacity now as a share of what the nameplate makes usable.',
  },
  'capacity.now.fromCharge': {
    name: 'Capacity, from charges',
    means:
      'The same from charges alone, less what is lost on the way out: a check of the one from discharges.',
  },
  'capacity.cutOff': {
    name: 'Stops at',
    means: 'State of charge at which the battery has no more to give, on its monitor’s display.',
  },
  'capacity.cutOff.drift': {
    name: 'Drift of the stop',
    means: 'How much that charge rises a year: fade that the monitor does not show.',
  },
  'capacity.fadePerYear': { name: 'Fade', means: 'Share of the reference capacity lost in a year.' },
  'capacity.fadePerYear.yearOnYear': {
    name: 'Fade, year on year',
    means: 'The same from months one year apart, which takes the season off by itself.',
  },
  'capacity.endOfLife.80': { name: '80 % is reached', means: 'When four fifths of the reference are left.' },
  'capacity.endOfLife.70': { name: '70 % is reached', means: 'When seven tenths of the reference are left.' },
  'capacity.endOfLife.60': { name: '60 % is reached', means: 'When six tenths of the reference are left.' },
  'warranty.years': { name: 'Warranty, years', means: 'Share of the warranted years that has passed.' },
  'warranty.throughput': {
    name: 'Warranty, throughput',
    means: 'Share of the warranted energy that has been taken out.',
  },
  'warranty.cycles': { name: 'Warranty, cycles', means: 'Share of the warranted cycles that has been used.' },
  'warranty.first': {
    name: 'Warranty ends',
    means: 'When the first of its limits is reached at the use of the last year.',
  },
  'outage.count': { name: 'Outages', means: 'Interruptions of the grid that the log shows.' },
  'outage.hours': { name: 'Time without the grid', means: 'All interruptions together.' },
  'outage.carriedShare': {
    name: 'Carried through',
    means: 'Share of the time without the grid in which the home had power.',
  },
  'outage.unservedHours': {
    name: 'Without power',
    means:
      'Time in which the home itself was dark: in outages, and without a grid whenever the load was gone.',
  },
  'outage.runtime.now': {
    name: 'Runtime now',
    means: 'Hours that the charge at the end of the range lasts at the usual load, without sun.',
  },
  'outage.replay.p10': { name: 'One in ten lasts', means: 'A tenth of the possible starts lasts no longer.' },
  'outage.replay.p50': { name: 'Half of them last', means: 'Half of the possible starts last no longer.' },
  'outage.replay.p90': {
    name: 'Nine in ten last',
    means: 'Nine tenths of the possible starts last no longer.',
  },
  'outage.survive.12h': { name: 'Lasts 12 h', means: 'Share of possible starts that last twelve hours.' },
  'outage.survive.24h': { name: 'Lasts a day', means: 'Share of possible starts that last 24 hours.' },
  'outage.reserve.12h90': {
    name: 'Reserve for 12 h',
    means: 'Least charge from which nine of ten starts last twelve hours, with the sun that there was.',
  },
  'peak.load': { name: 'Highest load', means: 'The highest mean load of one interval of the log.' },
  'peak.load.p999': {
    name: 'Load, 99.9 %',
    means: 'Load that all but a thousandth of the time stays below.',
  },
  'peak.leg.load': { name: 'Highest on one leg', means: 'The highest mean power of one leg.' },
  'peak.leg.imbalance': {
    name: 'Imbalance of legs',
    means: 'How far the legs lie from their mean, as a share of it.',
  },
  'peak.hoursAbove.continuous': {
    name: 'Above continuous',
    means: 'Time with a load above the inverter’s continuous rating.',
  },
  'peak.hoursAbove.batteryOnly': {
    name: 'Above battery-only',
    means:
      'Time with a load above what the inverter gives from the battery; in an outage it would have tripped.',
  },
  'peak.hoursAbove.leg': { name: 'A leg above its limit', means: 'Time with a leg above what it may carry.' },
  'peak.transfers': {
    name: 'Jumps to the grid',
    means: 'Loads that stopped a battery with charge left, so that the grid took over.',
  },
  'peak.headroom.batteryOnly': {
    name: 'Headroom on battery',
    means: 'What the inverter could have carried beyond the highest load, without the grid.',
  },
};

/** The name of a figure by its key. */
export function nameOf(key: string): FigureName {
  return FIGURE_NAMES[key] ?? { name: key, means: '' };
}
