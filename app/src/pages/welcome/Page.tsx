import { useLiveQuery } from 'dexie-react-hooks';
import { useEffect, useState } from 'react';
import { Link, Navigate, useNavigate, useSearchParams } from 'react-router';
import { db, type Home } from '../../db/database.js';
import { allHomes, newHome, type BadHome } from '../../db/homes.js';
import { looksOffered } from '../../store/preferences.js';
import { useAppDispatch, useAppSelector } from '../../store/store.js';
import { addReadings } from '../../db/readings.js';
import { importFiles } from '../../workers/client.js';
import { Homes } from './Homes.js';
import { OpenBook } from './OpenBook.js';
import { fetchDemoHome, listDemoHomes, type DemoHome } from './demoHomes.js';
import { SampleOfWork } from './Sample.js';

/** The first page: doors for someone new, the list of homes for someone who comes back. */
export default function WelcomePage() {
  const [params] = useSearchParams();
  const all = useLiveQuery(allHomes);
  const last = useAppSelector(({ preferences }) => preferences.lastHomeId);
  if (!all) return null;
  const { homes, bad } = all;
  const back = params.has('choose') ? undefined : (homes.find(({ id }) => id === last) ?? homes[0]);
  return <Arrival key={params.toString()} back={back?.id ?? null} homes={homes} bad={bad} />;
}

interface ArrivalProps {
  /** The home to go back to, as it was on arrival. */
  readonly back: string | null;
  readonly homes: readonly Home[];
  readonly bad: readonly BadHome[];
}

function Arrival({ back, homes, bad }: ArrivalProps) {
  // Decided once: a home that appears later, while a demo home is read, must not take the reader away.
  const [goTo] = useState(back);
  if (goTo !== null) return <Navigate to={`/h/${goTo}/days`} replace />;
  return (
    <main id="view" className="mx-auto max-w-4xl px-6 py-10">
      <p className="font-serif text-lg font-semibold">Long Tally</p>
      <h1 className="mt-6 text-3xl">The audit book of a home battery</h1>
      <p className="mt-3 max-w-2xl text-[16px]">
        Bring what your system has logged. You get an energy account that closes, and from it what the battery
        really does: how self-sufficient the home is, what is lost and how hard the battery is worked, each
        figure with its working and its uncertainty.
      </p>
      <p className="mt-2 max-w-2xl text-faint">
        Nothing leaves this machine: no account, no cloud. Logs, notes and figures stay in this browser and in
        files you save; a home’s book is one file that opens again anywhere.
      </p>
      <p className="mt-4 flex flex-wrap gap-3">
        <a href="#demo-homes" className="action">
          See a demo home
        </a>
        <Link to="/new" className="action">
          Bring your own log
        </Link>
        <Link to="/new?then=readings" className="action">
          Type in readings
        </Link>
      </p>
      {homes.length + bad.length > 0 ? <Homes homes={homes} bad={bad} /> : <SampleOfWork />}
      <OpenBook />
      <div className="mt-8 grid gap-8 border-t border-ink pt-5 md:grid-cols-3">
        <DemoDoor />
        <section>
          <h2 className="text-[18px]">Bring your own log</h2>
          <p className="mt-1">
            Whatever your equipment gives you: CSV, a spreadsheet, an archive, daily totals or counter
            readings. First you say what the system is; three lines are enough to begin.
          </p>
          <Link to="/new" className="action mt-3 inline-block">
            Describe a home and bring its log
          </Link>
        </section>
        <section>
          <h2 className="text-[18px]">Type in counter readings</h2>
          <p className="mt-1">
            No log at hand? Note what your meters show, now and again later. Totals between readings are
            exact; what needs the course of the day says so.
          </p>
          <Link to="/new?then=readings" className="action mt-3 inline-block">
            Describe a home and type in readings
          </Link>
        </section>
      </div>
    </main>
  );
}

function DemoDoor() {
  const navigate = useNavigate();
  const dispatch = useAppDispatch();
  const [demos, setDemos] = useState<DemoHome[]>([]);
  const [state, setState] = useState<{ readonly busy?: string; readonly failed?: string }>({});
  useEffect(() => {
    listDemoHomes().then(setDemos, (error: unknown) => setState({ failed: String(error) }));
  }, []);
  const open = async (demo: DemoHome) => {
    setState({ busy: `Fetching ${demo.name} …` });
    try {
      const { system, files, readings } = await fetchDemoHome(demo);
      const home = newHome(system, (await db.homes.get(demo.id)) ? undefined : demo.id);
      const refused = await importFiles(home, files, ({ share, stage }) =>
        setState({ busy: stage === 'storing' ? 'Storing …' : `Reading ${Math.round(share * 100)} %` }),
      );
      if (refused.length === 0 && readings.length > 0) await addReadings(home.id, readings);
      if (refused.length === 0) {
        dispatch(looksOffered({ homeId: home.id, looks: demo.look }));
        void navigate(`/h/${home.id}/days`);
      } else setState({ failed: refused.join(' ') });
    } catch (error) {
      setState({ failed: `The demo home could not be opened: ${(error as Error).message}` });
    }
  };
  if (demos.length === 0) {
    return state.failed ? (
      <p role="alert" className="text-red">
        {state.failed}
      </p>
    ) : null;
  }
  return (
    <section id="demo-homes">
      <h2 className="text-[18px]">Open a demo home</h2>
      <p className="mt-1 mb-2 text-faint">Everything in them is invented.</p>
      {demos.map((demo) => (
        <div key={demo.id} className="mt-1 mb-4">
          <p>
            <b className="font-semibold">{demo.name}.</b> {demo.about}
          </p>
          <button
            type="button"
            className="action mt-3"
            disabled={state.busy !== undefined}
            onClick={() => void open(demo)}
          >
            Open {demo.name}
          </button>
        </div>
      ))}
      <p role="status" className="mt-2 min-h-5 text-faint">
        {state.busy}
      </p>
      {state.failed && (
        <p role="alert" className="text-red">
          {state.failed}
        </p>
      )}
    </section>
  );
}
