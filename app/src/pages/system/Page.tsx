import type { System } from '@long-tally/core';
import { useEffect, useMemo, useState } from 'react';
import { useLocation } from 'react-router';
import { recordChange, systemChangeText } from '../../db/changes.js';
import { saveSystem } from '../../db/homes.js';
import { download, stemOf } from '../../ui/download.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { formOf } from './form.js';
import { Keeping } from './Keeping.js';
import { SystemFile } from './SystemFile.js';
import { SystemFormView } from './SystemFormView.js';

/** Edits the description of a home; every figure that needs it is computed again. */
export default function SystemPage() {
  const { home } = useOverview();
  // What the form was filled from: another tab's change of it must not be overwritten unseen.
  const [base, setBase] = useState(home.system);
  const { hash } = useLocation();
  const [loaded, setLoaded] = useState<System | null>(null);
  const [saved, setSaved] = useState(false);
  const original = loaded ?? base;
  const initial = useMemo(() => formOf(original), [original]);
  useEffect(() => {
    if (hash) document.getElementById(hash.slice(1))?.scrollIntoView();
  }, [hash]);
  const save = async (system: System) => {
    await saveSystem(home.id, base, system);
    const says = systemChangeText(base, system);
    if (says) await recordChange(home.id, says);
    setBase(system);
    setLoaded(null);
    setSaved(true);
  };
  return (
    <main id="view" className="min-h-0 flex-1 overflow-y-auto px-5 py-4">
      <h1 className="text-xl">System of {home.system.name}</h1>
      <p className="mt-1">
        Capacities set the change in store, the cycles and the losses; power limits set what counts as truly
        full and the headroom; accuracies set every interval.{' '}
        <button
          type="button"
          className="quiet"
          onClick={() => download(`${stemOf(home)}.system.json`, home.system)}
        >
          Save as a system file
        </button>
      </p>
      <SystemFile
        onLoad={(system) => {
          setLoaded(system);
          setSaved(false);
        }}
      />
      {loaded && <p role="status">The file stands in the form below; nothing changes until you save.</p>}
      <SystemFormView
        key={loaded ? 'file' : 'home'}
        draftOfHome={home.id}
        {...{ initial, original }}
        action="Save the system"
        onSave={save}
      />
      <p role="status" className="mt-2 min-h-5">
        {saved ? 'Saved. The figures are computed with it from here on.' : ''}
      </p>
      <Keeping home={home} />
    </main>
  );
}
