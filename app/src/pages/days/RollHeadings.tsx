const HEADINGS: readonly (readonly [letter: string, colour: string, text: string])[] = [
  ['S', 'text-solar-text', 'solar'],
  ['H', 'text-home', 'load'],
  ['G', 'text-grid', 'in'],
  ['G', 'text-grid', 'out'],
  ['B', 'text-battery', 'out'],
];

/** What the columns of the roll hold. */
export function RollHeadings() {
  return (
    <>
      <div role="columnheader" className="col-span-2 pl-2">
        day
      </div>
      <div role="columnheader">
        <b className="text-battery">B</b> charge through the day
      </div>
      {HEADINGS.map(([letter, colour, text], i) => (
        <div key={i} role="columnheader" className="pr-2 text-right">
          <b className={colour}>{letter}</b> {text}
          <br />
          kWh
        </div>
      ))}
      <div role="columnheader" className="pr-2 text-right">
        closing
        <br />
        error kWh
      </div>
      <div role="columnheader" className="pl-3">
        what explains the day
      </div>
    </>
  );
}
