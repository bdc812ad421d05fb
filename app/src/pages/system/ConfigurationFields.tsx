import { Controller, useFieldArray, useFormContext, useWatch } from 'react-hook-form';
import { Fold } from '../../ui/Fold.js';
import { Tick } from '../../ui/Tick.js';
import { ChemistryField } from './ChemistryField.js';
import { countKnown, type ConfigurationForm } from './configurationForm.js';
import { Field } from './Field.js';
import type { SystemForm } from './form.js';

interface Props {
  readonly index: number;
  readonly onCopy: () => void;
  readonly onRemove: () => void;
}

/** One configuration: what it is made of, each part with the figures that rest on it. */
export function ConfigurationFields({ index, onCopy, onRemove }: Props) {
  const at = `configurations.${index}` as const;
  return (
    <fieldset id={`configuration-${index + 1}`} className="mt-3 border-t border-rule-2 pt-1">
      <legend className="pr-2 font-semibold">Configuration {index + 1}</legend>
      <Group affects="The first date from which every figure below speaks of this configuration.">
        <Field name={`${at}.from`} label="Holds from" type="datetime-local" hint="time at the site" />
        <Field name={`${at}.name`} label="Short name" hint="for example: three modules" />
        <Field
          name={`${at}.coupling`}
          label="Coupling"
          options={[
            ['', 'not known'],
            ['ac', 'AC: a battery inverter of its own'],
            ['dc', 'DC: hybrid inverter'],
          ]}
        />
        <Field
          name={`${at}.grid`}
          label="Grid"
          options={[
            ['connected', 'connected'],
            ['none', 'no grid at all'],
          ]}
        />
      </Group>
      <Group affects="Affects change in store, losses, cycles, round trip, true full charge, days with an empty battery.">
        <Field name={`${at}.modules`} label="Battery modules" unit="count" />
        <Field name={`${at}.moduleKWh`} label="Each, nameplate" unit="kWh" />
        <Field name={`${at}.usablePct`} label="Usable share" unit="%" />
        <ChemistryField index={index} />
      </Group>
      <Part
        index={index}
        title="Limits, reserve and cut-off of the battery"
        keys={['maxChargeKW', 'maxDischargeKW', 'reservePct', 'cutOffPct']}
        affects="Affects true full charge, runtime, what the reserve costs, hours at the limit."
      >
        <Field name={`${at}.maxChargeKW`} label="Highest charge" unit="kW" />
        <Field name={`${at}.maxDischargeKW`} label="Highest discharge" unit="kW" />
        <Field name={`${at}.reservePct`} label="Reserve" unit="%" hint="kept while the grid is there" />
        <Field name={`${at}.cutOffPct`} label="Cut-off" unit="%" />
      </Part>
      <Part
        index={index}
        title="Inverter"
        keys={INVERTER}
        affects="Affects headroom, loads over the limit, and what a log’s magnitudes are held against."
      >
        <Field name={`${at}.units`} label="Inverters" unit="count" />
        <Field name={`${at}.continuousKW`} label="Inverter, continuous" unit="kW" />
        <Field name={`${at}.batteryOnlyKW`} label="Inverter on battery only" unit="kW" />
        <Field name={`${at}.surgeKW`} label="Surge" unit="kW" />
        <Field
          name={`${at}.legs`}
          label="Legs or phases"
          options={[
            ['', 'not known'],
            ['1', 'one'],
            ['2', 'two legs'],
            ['3', 'three phases'],
          ]}
        />
        <Field name={`${at}.perLegKW`} label="Limit per leg" unit="kW" />
        <Field name={`${at}.lowChargeKW`} label="Limit at low charge" unit="kW" />
        <Field name={`${at}.lowChargePct`} label="Low charge is below" unit="%" />
        <Field name={`${at}.statedIdleW`} label="Inverter idle, stated" unit="W" />
      </Part>
      <Part
        index={index}
        title="Panels"
        keys={['arrays', 'hasNoPanels']}
        affects="Affects what solar a log can hold, and what the sky would have given."
      >
        <ArrayFields index={index} />
      </Part>
      <Part
        index={index}
        title="The grid: charge windows, export limit"
        keys={['chargeWindows', 'exportLimitKW']}
        affects="Affects solar held back, and what is charged from the grid on purpose."
      >
        <Field name={`${at}.exportLimitKW`} label="Export limit" unit="kW" />
        <WindowFields index={index} />
      </Part>
      <Part
        index={index}
        title="Warranty"
        keys={['warranty', 'warrantyOffGrid']}
        affects="Affects the clocks of the warranty. The document itself leads; nothing here replaces it."
      >
        <WarrantyFields at={`${at}.warranty`} title="With a grid" />
        <WarrantyFields
          at={`${at}.warrantyOffGrid`}
          title="Used without a grid, where the terms are others"
        />
      </Part>
      <p className="mt-2 flex gap-5">
        <button type="button" className="quiet" onClick={onCopy}>
          Copy configuration {index + 1}
        </button>
        <button type="button" className="quiet text-faint" onClick={onRemove}>
          Remove configuration {index + 1}
        </button>
      </p>
    </fieldset>
  );
}

const INVERTER: readonly (keyof ConfigurationForm)[] = [
  'units',
  'continuousKW',
  'batteryOnlyKW',
  'surgeKW',
  'legs',
  'perLegKW',
  'lowChargeKW',
  'lowChargePct',
  'statedIdleW',
];

interface PartProps {
  readonly index: number;
  readonly title: string;
  /** What of the configuration it holds. */
  readonly keys: readonly (keyof ConfigurationForm)[];
  readonly affects: string;
  readonly children: React.ReactNode;
}

/** A part of a configuration that opens; closed, it says how much of it is known, and it opens where something is wrong. */
function Part({ index, title, keys, affects, children }: PartProps) {
  const { control, getFieldState, formState } = useFormContext<SystemForm>();
  const values = useWatch({ control, name: keys.map((key) => `configurations.${index}.${key}` as const) });
  const known = (values as unknown[]).reduce<number>((sum, value) => sum + countKnown(value), 0);
  const mustOpen = keys.some(
    (key) => getFieldState(`configurations.${index}.${key}`, formState).error !== undefined,
  );
  return (
    <Fold
      title={title}
      holds={known === 0 ? 'nothing given yet' : `${known} given`}
      mustOpen={mustOpen}
      className="mt-2"
    >
      <Group affects={affects}>{children}</Group>
    </Fold>
  );
}

function Group({ affects, children }: { readonly affects: string; readonly children: React.ReactNode }) {
  return (
    <div className="mt-2">
      <div className="grid grid-cols-2 gap-x-4 gap-y-2 md:grid-cols-5">{children}</div>
      <p className="mt-0.5 text-[12px] text-faint">{affects}</p>
    </div>
  );
}

function ArrayFields({ index }: { readonly index: number }) {
  const { control } = useFormContext<SystemForm>();
  const name = `configurations.${index}.arrays` as const;
  const { fields, append, remove } = useFieldArray({ control, name });
  return (
    <div className="col-span-full">
      {fields.length === 0 && (
        <Controller
          control={control}
          name={`configurations.${index}.hasNoPanels`}
          render={({ field: { value, onChange } }) => (
            <Tick className="mb-1" checked={value} onChange={onChange}>
              This home has no panels: its solar is zero, not missing
            </Tick>
          )}
        />
      )}
      {fields.map((field, i) => (
        <div key={field.id} className="mt-1 grid grid-cols-2 gap-x-4 gap-y-1 md:grid-cols-5">
          <Field name={`${name}.${i}.name`} label={`Array ${i + 1}`} />
          <Field name={`${name}.${i}.kWp`} label={`Array ${i + 1}, size`} unit="kWp" />
          <Field name={`${name}.${i}.tilt`} label={`Array ${i + 1}, tilt`} unit="°" />
          <Field
            name={`${name}.${i}.azimuth`}
            label={`Array ${i + 1}, azimuth`}
            unit="°"
            hint="0 north, 90 east"
          />
          <button
            type="button"
            className="quiet self-center justify-self-start text-faint"
            onClick={() => remove(i)}
          >
            Remove array {i + 1}
          </button>
        </div>
      ))}
      <button
        type="button"
        className="quiet"
        onClick={() => append({ origin: '', name: '', kWp: '', tilt: '', azimuth: '' })}
      >
        Add an array
      </button>
    </div>
  );
}

function WindowFields({ index }: { readonly index: number }) {
  const { control } = useFormContext<SystemForm>();
  const name = `configurations.${index}.chargeWindows` as const;
  const { fields, append, remove } = useFieldArray({ control, name });
  return (
    <div className="col-span-full">
      {fields.map((field, i) => (
        <div key={field.id} className="mt-1 grid grid-cols-2 gap-x-4 gap-y-1 md:grid-cols-5">
          <Field name={`${name}.${i}.start`} label={`Charge window ${i + 1}, from`} hint="23:00" />
          <Field name={`${name}.${i}.end`} label={`Charge window ${i + 1}, to`} hint="07:00" />
          <Field name={`${name}.${i}.toPct`} label={`Charge window ${i + 1}, up to`} unit="%" />
          <button
            type="button"
            className="quiet self-center justify-self-start text-faint"
            onClick={() => remove(i)}
          >
            Remove window {i + 1}
          </button>
        </div>
      ))}
      <button
        type="button"
        className="quiet"
        onClick={() => append({ origin: '', start: '', end: '', toPct: '' })}
      >
        Add a charge window
      </button>
    </div>
  );
}

type WarrantyAt = `configurations.${number}.warranty` | `configurations.${number}.warrantyOffGrid`;

function WarrantyFields({ at, title }: { readonly at: WarrantyAt; readonly title: string }) {
  const of = (label: string) => `${label}${at.endsWith('OffGrid') ? ' (no grid)' : ''}`;
  return (
    <div className="col-span-full">
      <p className="text-[12.5px] text-faint">{title}</p>
      <div className="grid grid-cols-2 gap-x-4 gap-y-2 md:grid-cols-6">
        <Field name={`${at}.years`} label={of('Warranted years')} />
        <Field name={`${at}.throughputKWh`} label={of('Warranted throughput')} unit="kWh" />
        <Field name={`${at}.cycles`} label={of('Warranted cycles')} unit="count" />
        <Field name={`${at}.cycleDepthPct`} label={of('at a depth of')} unit="%" />
        <Field name={`${at}.capacityKWh`} label={of('of a capacity of')} unit="kWh" />
        <Field name={`${at}.endCapacityPct`} label={of('Capacity at the end')} unit="%" />
      </div>
    </div>
  );
}
