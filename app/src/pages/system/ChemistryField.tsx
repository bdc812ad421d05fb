import { useFormContext, useWatch } from 'react-hook-form';
import { CHEMISTRIES, chemistryChoices, usualText } from './chemistries.js';
import { Field } from './Field.js';
import type { SystemForm } from './form.js';

/** The chemistry of a configuration's battery, with what is usual for it; its values are taken at a button, and can be changed. */
export function ChemistryField({ index }: { readonly index: number }) {
  const { control, setValue } = useFormContext<SystemForm>();
  const at = `configurations.${index}` as const;
  const present = useWatch({ control, name: `${at}.chemistry` });
  const known = CHEMISTRIES.find(({ key }) => key === present);
  const take = (usable: number, cutOff: number) => {
    setValue(`${at}.usablePct`, String(usable), { shouldDirty: true, shouldValidate: true });
    setValue(`${at}.cutOffPct`, String(cutOff), { shouldDirty: true, shouldValidate: true });
  };
  return (
    <>
      <Field name={`${at}.chemistry`} label="Chemistry" options={chemistryChoices(present)} />
      {known && (
        <p className="col-span-full text-[12.5px] text-faint">
          {usualText(known)}{' '}
          <button type="button" className="quiet" onClick={() => take(known.usablePct, known.cutOffPct)}>
            Use the usual values
          </button>
        </p>
      )}
    </>
  );
}
