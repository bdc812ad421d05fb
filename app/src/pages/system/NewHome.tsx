import type { System } from '@long-tally/core';
import { useMemo, useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { addHome, newHome } from '../../db/homes.js';
import { NO_PERMISSION_YET } from '../../ui/cautions.js';
import { emptyForm, formOf } from './form.js';
import { SystemFile } from './SystemFile.js';
import { SystemFormView } from './SystemFormView.js';

/** Describes a new home; its log comes next. */
export default function NewHomePage() {
  const navigate = useNavigate();
  const [params] = useSearchParams();
  const byHand = params.get('then') === 'readings';
  const [loaded, setLoaded] = useState<System | null>(null);
  const initial = useMemo(
    () => (loaded ? formOf(loaded) : emptyForm(Intl.DateTimeFormat().resolvedOptions().timeZone)),
    [loaded],
  );
  const save = async (system: System) => {
    const home = newHome(system);
    await addHome(home);
    void navigate(`/h/${home.id}/${byHand ? 'readings' : 'sources'}`);
  };
  return (
    <main id="view" className="mx-auto max-w-5xl px-6 py-8">
      <Link to="/?choose" className="font-serif text-lg font-semibold">
        Long Tally
      </Link>
      <h1 className="mt-4 text-2xl">Describe your home</h1>
      <p className="mt-1">
        A name and the time zone are enough to begin; the battery can follow later, here or under System.
      </p>
      <p className="mt-1 text-faint">{NO_PERMISSION_YET}</p>
      <SystemFile onLoad={setLoaded} />
      <SystemFormView
        key={loaded ? 'file' : 'new'}
        draftOfHome="new"
        initial={initial}
        original={loaded}
        action={byHand ? 'Save, then type in readings' : 'Save, then bring a log'}
        onSave={save}
      />
    </main>
  );
}
