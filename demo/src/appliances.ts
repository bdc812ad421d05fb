import { dice } from './random.js';

/** A run of an appliance: from a minute of the day, for so many minutes, at a power in W, with a duty of 1 or less. */
interface Run {
  readonly from: number;
  readonly minutes: number;
  readonly watts: number;
  /** Minutes on and off of a thermostat; always on when left out. */
  readonly cycle?: readonly [number, number];
}

/** Who is at home on a day. */
export type Presence = 'usual' | 'away' | 'guests';

/**
 * The load of a household, minute by minute, from its appliances and their heating elements.
 * @returns a function that fills one day (1440 values, W) from the outdoor temperature and the day of the week (0 = Sunday)
 */
export function household(
  seed: number,
): (day: Float64Array, meanC: number, weekday: number, presence: Presence) => void {
  const { roll, normal } = dice(seed, 'appliances');
  const near = (minute: number, spread: number) =>
    Math.round(Math.min(1380, Math.max(0, minute + spread * normal())));
  let fridge = 0;
  return (day, meanC, weekday, presence) => {
    const weekend = weekday === 0 || weekday === 6;
    const runs: Run[] = [];
    const often = presence === 'guests' ? 1.6 : 1;
    if (presence !== 'away') {
      const kettles = Math.round((3 + 3 * roll()) * often);
      for (let k = 0; k < kettles; k++)
        runs.push({ from: near([400, 470, 780, 1000, 1200][k % 5]!, 40), minutes: 3, watts: 2200 });
      for (let k = 0; k < 2 * often; k++)
        runs.push({ from: near(k % 2 ? 1270 : 420, 35), minutes: 9, watts: 3000, cycle: [3, 1] });
      runs.push({ from: near(1085, 30), minutes: 35, watts: 1800, cycle: [3, 2] });
      if (roll() < (weekend ? 0.55 : 0.3))
        runs.push({ from: near(1070, 30), minutes: 55, watts: 2300, cycle: [4, 3] });
      if (roll() < 0.75 * often)
        runs.push(
          { from: near(1160, 40), minutes: 18, watts: 2000 },
          { from: near(1190, 40), minutes: 10, watts: 1900 },
        );
      if (roll() < (weekend ? 0.7 : 0.35)) {
        const wash = near(weekend ? 600 : 1020, 60);
        runs.push({ from: wash, minutes: 14, watts: 2050 }, { from: wash + 20, minutes: 50, watts: 180 });
        if (roll() < (meanC < 14 ? 0.7 : 0.2))
          runs.push({ from: wash + 80, minutes: 55, watts: 2500, cycle: [6, 1] });
      }
      const cold = Math.max(0, 16.5 - meanC);
      if (cold > 0) {
        runs.push({ from: near(375, 12), minutes: 110, watts: 500 + 190 * cold, cycle: [7, 3] });
        runs.push({ from: near(1020, 20), minutes: 280, watts: 350 + 150 * cold, cycle: [7, 4] });
      }
      runs.push({ from: near(1050, 15), minutes: 290, watts: 210 });
      if (weekend) runs.push({ from: near(560, 30), minutes: 420, watts: 130 });
      else if (roll() < 0.6) runs.push({ from: near(540, 20), minutes: 440, watts: 95 });
    }
    for (let m = 0; m < 1440; m++) {
      fridge = (fridge + 1) % 53;
      day[m] = 118 + (fridge < 19 ? 95 : 0) + 6 * normal();
    }
    for (const { from, minutes, watts, cycle } of runs) {
      for (let m = 0; m < minutes && from + m < 1440; m++) {
        const [on, off] = cycle ?? [1, 0];
        if (m % (on + off) < on) day[from + m]! += watts;
      }
    }
    for (let m = 0; m < 1440; m++) day[m] = Math.max(40, day[m]!);
  };
}
