/** A page of the Handbook. */
export interface Topic {
  readonly path: string;
  readonly title: string;
  /** What it answers, in one line. */
  readonly answers: string;
  readonly paragraphs: readonly string[];
  /** What the keys of its figures begin with. */
  readonly figures: readonly string[];
  /** The view it is about, as the demo home shows it. */
  readonly picture?: { readonly name: string; readonly says: string };
}

/** The pages of the Handbook; between them they hold every figure. */
export const TOPICS: readonly Topic[] = [
  {
    path: 'account',
    title: 'The energy account',
    answers: 'Where the energy came from, where it went, and how far the meters agree.',
    paragraphs: [
      'At the home’s bus, what comes in equals what goes out: solar, import and discharge on one side; load, export and charge on the other. What the meters leave over is the closing error. It is shown, never spread over the other lines.',
      'Losses are what came in, less what went out, less what is still stored. They belong to the side on which the battery is measured: on the AC side they hold its inverter, on the DC side they do not.',
      'Missing is missing. Gaps of up to three steps are bridged in a straight line and marked; longer ones stay out of every sum, and totals are never scaled up.',
      'Charge and discharge, or import and export, that alternate within one step of the log cancel before they are logged. The intervals of these energies allow for it upwards, the more the coarser the step. Sun and load that do not meet within a step meet in its mean: sun used at once may be less than it seems, stored sun more.',
    ],
    figures: [
      'account.solar',
      'account.load',
      'account.import',
      'account.export',
      'account.charge',
      'account.discharge',
      'account.storeChange',
      'account.losses',
      'account.closing',
      'account.flow',
      'account.trickle',
      'solar.part',
      'load.part',
      'solar.specificYield',
      'load.baseLoad',
      'losses.mean',
    ],
    picture: { name: 'account', says: 'The account of a month, and where each source went' },
  },
  {
    path: 'self-sufficiency',
    title: 'Three schools of self-sufficiency',
    answers: 'Why a portal says 98 %, the bill 92 % and your neighbour something else.',
    paragraphs: [
      'By the meter: one less import over load. Everything bought counts against the home, also what charged the battery and was lost there. It is the strictest, and the one a bill can check.',
      'By supply: the share of the load that sun and battery carried, whatever had filled the battery. A home that charges at night from the grid looks better by it than by the meter.',
      'Of solar origin: as by supply, but what came out of the battery counts only as far as the sun had put it there. Grid energy in the store is followed through it, mixed in the proportion of what is stored.',
      'Where little is charged from the grid, all three agree. Where they do not, the difference is told in kWh. In Account you can type in what somebody else states, and see which definition gives that number.',
    ],
    figures: ['account.selfSufficiency', 'account.selfConsumption', 'account.gridFree'],
    picture: { name: 'days', says: 'The three schools beside each other, with the working of one' },
  },
  {
    path: 'round-trip',
    title: 'Round trip',
    answers: 'How much of what is put into the battery comes out again.',
    paragraphs: [
      'Energy out over energy in counts only between equal states of charge. From the end of one true full charge to the end of the next, nothing has to be assumed about the capacity, so those windows lead.',
      'Truly full means charged to the top and held there until the charging had died down. A battery that is merely shown as 100 % may have room left.',
      'Idle draw is in it: a battery that stands full for days has a poor round trip though nothing is wrong with its conversion. That is why both are told apart under idle draw and conversion.',
      'Powers that alternate between charge and discharge within one step of the log cancel before they are logged. The interval allows for it upwards; a log of finer steps narrows it.',
    ],
    figures: ['losses.roundTrip'],
    picture: { name: 'losses', says: 'Losses by window, with idle draw and conversion told apart' },
  },
  {
    path: 'idle-draw',
    title: 'Idle draw and conversion',
    answers: 'What the equipment takes for itself, and what converting energy costs.',
    paragraphs: [
      'Each full-to-full window loses power times its length plus a share of what it delivered. Windows that differ in delivery let the two be told apart by a robust line; windows that are all alike do not, and then only the sum is told.',
      'A battery that is switched off when it is empty loses nothing while it waits for the sun. Where the losses show that, those hours are left out, and the working says how many there were.',
      'By night, with the battery alone, its power against the load makes the tare line; where it meets zero load stands the inverter’s own draw.',
      'A step in the idle draw that nothing in the description explains, such as new firmware, is looked for and named with its date. Each side of it has its own fit.',
      'What remains when idle draw and conversion are taken off the losses is called unexplained. It holds every meter’s error and is never spread.',
    ],
    figures: ['losses.idle', 'losses.conversion', 'losses.part', 'losses.unexplained'],
    picture: { name: 'losses', says: 'The loss budget of a home' },
  },
  {
    path: 'wear',
    title: 'Wear, capacity and fade',
    answers: 'How hard the battery is worked, how much it still holds, and until when.',
    paragraphs: [
      'Equivalent full cycles are discharge over a capacity; rainflow counting takes each swing once, when it closes, as fatigue counts do. A cycle life from a data sheet turns the swings into a share of life used.',
      'Capacity is estimated from every large discharge: energy over the change of the state of charge, the idle draw added. It is only as true as the monitor’s state of charge; a monitor that does not relearn hides fade. Where nothing in the log sets it anew, the verdict says “on the monitor’s own scale”, and a drawdown trial would tell.',
      'Fade needs time: below half a year or twenty estimates there is a level but no rate. With less than two years a season may look like fade, since a cold battery gives less.',
      'A warranty’s clocks run by years, throughput or cycles, whichever is first. Its own document decides; what you type in here only counts along.',
    ],
    figures: ['wear.', 'warranty.', 'capacity.'],
    picture: { name: 'wear', says: 'Capacity over time, and the clocks of the warranty' },
  },
  {
    path: 'outages',
    title: 'Outages and how long the battery lasts',
    answers: 'What the past outages were, and how the next would go.',
    paragraphs: [
      'Outages are known by a logged state, voltage or frequency of the grid; where none is logged, by a grid power of exactly zero for longer than chance explains.',
      'How long the next one is carried is not one number. From every hour of the log an outage is begun with the load and sun that followed and the charge that there was; the curve tells in what share of the starts the battery lasted so long. A start that the log cuts off counts as far as it was seen.',
      'Loads over the inverter’s limit trip it, however full the battery is. The peaks tell when that would have happened and by how much.',
      'No battery is a supply for medical devices.',
    ],
    figures: [
      'outage.count',
      'outage.hours',
      'outage.carriedShare',
      'outage.unservedHours',
      'outage.runtime',
      'outage.replay',
      'outage.survive',
      'peak.',
    ],
    picture: {
      name: 'outages',
      says: 'The ledger of outages, and every hour replayed as the beginning of one',
    },
  },
  {
    path: 'reserve',
    title: 'The reserve',
    answers: 'How much charge to keep for outages, and what keeping it costs.',
    paragraphs: [
      'A reserve buys hours in an outage with self-sufficiency on all other days. The reserve by month is the least charge from which the home lasts the hours you ask for, in the share of starts you ask for.',
      'What it costs is found by running the same log with another reserve: the import it would have added, by month.',
      'Where export is nil and the battery often full, the sun that was held back is not known, so what a reserve costs is given with a wide interval or not at all.',
    ],
    figures: ['outage.reserve'],
    picture: { name: 'outages', says: 'The reserve by month beside the reserve that is set' },
  },
  {
    path: 'solar',
    title: 'Solar not made',
    answers: 'What was clipped by the inverter or held back by a full battery.',
    paragraphs: [
      'A flat top at the inverter’s limit is clipping. Solar well below what the same hours of the days around gave, with the battery full and nothing exported or with export at its limit, was held back.',
      'What the sky would have given is estimated from those days around; where it cannot be, the figure refuses and says so, since a guess here would be taken for room for more storage.',
    ],
    figures: ['solar.clipped', 'solar.heldBack', 'solar.dcGain', 'solar.surplus'],
  },
  {
    path: 'trials',
    title: 'Trials',
    answers: 'A test of your own: capacity, idle draw, peak power, and what must not run together.',
    paragraphs: [
      'A trial counts where a log cannot tell: readings before, during and after a run whose conditions are known. The best is a drawdown from truly full to a few per cent above the cut-off, with loads added in steps below every limit.',
      'Each protocol says what to prepare, when to stop, and what makes it invalid. A trial that went wrong is kept and said to be so; it counts in no figure.',
      'Run the home from the battery only through the approved isolating gear. Never on a day when something depends on it.',
    ],
    figures: ['trial.'],
    picture: { name: 'trial', says: 'A trial while it runs' },
  },
  {
    path: 'money',
    title: 'Money',
    answers: 'What the bill was, what it would have been, and whether the battery pays.',
    paragraphs: [
      'Bills are drawn up interval by interval from the tariff you describe. What it would have been without the battery, or without battery and panels, is the same load with the same prices.',
      'The saving is split by what made it: solar used at once, solar stored, energy moved from cheap to dear hours, export. What an idle draw costs is an upper bound, since by day the sun may carry it.',
      'Payback asks for a price and for how long the battery lasts; both are doubtful, so it is given with its interval, also discounted.',
    ],
    figures: ['money.', 'weather.'],
    picture: { name: 'money', says: 'The bill, and what made the saving' },
  },
  {
    path: 'what-if',
    title: 'What-if',
    answers: 'What another module, more panels, a car or another reserve would have done.',
    paragraphs: [
      'The home is run through a model, step by step, with its measured load and sun. First as it is: how far the model then is from the log says how much a what-if is worth. A battery that follows a rule that is not described shows there, and the rule that the log shows is proposed.',
      'A change is given as the difference between the model with it and the model without it, so that what the model gets wrong mostly cancels.',
      'That difference is of the range as it was. What the change would bring in another year is told beside it: a thousand years are put together of weeks of the log, each drawn from its own season, and the bounds hold 95 of 100 of them. It needs a log of every season, and takes use and prices as they were.',
      'The past is not the future: a change would have done this with the load and the weather of the range. Seasons that are missing are named.',
    ],
    figures: [],
    picture: { name: 'what-if', says: 'A change set against the home as it is' },
  },
];

/** The page on which a figure is explained; null where it is none of them. */
export function topicOf(key: string): Topic | null {
  return TOPICS.find(({ figures }) => figures.some((begin) => key.startsWith(begin))) ?? null;
}
