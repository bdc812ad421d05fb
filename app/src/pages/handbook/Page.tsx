import { useDeferredValue, useEffect, useId, useState } from 'react';
import { Link, useLocation, useParams } from 'react-router';
import glossary from '../../../../docs/glossary.md?raw';
import { Figures } from './Figures.js';
import { termsOf } from './glossary.js';
import { searched } from './searched.js';
import { TOPICS, type Topic } from '../../ui/handbookTopics.js';
import { NO_PERMISSION_YET } from '../../ui/cautions.js';
import { localized } from '../../ui/localized.js';

const TERMS = termsOf(glossary);
const PICTURES = import.meta.glob<string>(
  '../../../../docs/screenshots/{account,days,losses,money,outages,trial,wear,what-if}.png',
  {
    query: '?url',
    import: 'default',
    eager: true,
  },
);

const CAUTIONS = [
  'Run the home from the battery only through the installed and approved isolating gear. Never feed a dead grid: it endangers the people who repair it.',
  'Do not open covers or touch conductors. Battery circuits stay live with everything switched off.',
  'Before you isolate: shut down computers and other sensitive equipment, and know which circuits are backed up.',
  'Add load in steps and stay below the battery-only rating, on each leg as well as in total: motors draw several times their running power as they start.',
  'Stop above the cut-off set by the maker and recharge the same day. Below about 10 % many inverters limit their output, and a restart from empty may need a procedure of its own.',
  'After a trip, find out why before you restart; automatic restart is a setting to decide on.',
  'Stop at once at heat, smell, smoke, swelling or an unusual sound, keep away, and call those who are trained for it.',
  'Lithium cells must not be charged below 0 °C (32 °F) unless their maker allows it. Heat ages them: above about 45 °C (113 °F) stop.',
  NO_PERMISSION_YET,
  'A battery at home is no supply for medical devices: have a plan that does not rest on it. Anyone who depends on one must not run a drawdown test at home alone.',
  'Local electrical codes, the equipment’s manual and a licensed electrician come before anything written here.',
  'A figure is evidence, not a safety certificate, and a warranty’s own document decides what it covers.',
];

/** What every figure means, how it is computed and where the method comes from, by topic; words of the field; the cautions. */
export default function HandbookPage() {
  const { topic: path } = useParams();
  const topic = TOPICS.find((one) => one.path === path);
  const { hash } = useLocation();
  const [query, setQuery] = useState('');
  const wanted = useDeferredValue(query.trim());
  const id = useId();
  useEffect(() => {
    document.getElementById(decodeURIComponent(hash.slice(1)))?.scrollIntoView();
  }, [hash, path]);
  return (
    <div className="grid min-h-0 flex-1 grid-cols-1 grid-rows-[auto_minmax(0,1fr)] md:grid-cols-[230px_minmax(0,1fr)] md:grid-rows-1">
      <nav
        aria-label="Pages of the Handbook"
        className="no-print min-h-0 overflow-y-auto border-r border-rule-2 px-5 py-4 max-md:max-h-44"
      >
        <label htmlFor={id} className="text-[12.5px] text-faint">
          Search the Handbook
        </label>
        <input
          id={id}
          type="search"
          className="field"
          placeholder="idle, cycles, reserve"
          value={query}
          onChange={(event) => setQuery(event.target.value)}
        />
        <ul className="mt-3">
          {[{ path: '', title: 'Before you begin' }, ...TOPICS, { path: 'glossary', title: 'Glossary' }].map(
            (one) => (
              <li key={one.path}>
                <PageLink path={one.path} isHere={(path ?? '') === one.path} onOpen={() => setQuery('')}>
                  {one.title}
                </PageLink>
              </li>
            ),
          )}
        </ul>
      </nav>
      <main id="view" tabIndex={0} className="min-h-0 overflow-y-auto px-5 py-4">
        <div className="max-w-4xl">
          {wanted !== '' ? (
            <Results query={wanted} onOpen={() => setQuery('')} />
          ) : topic ? (
            <TopicPage topic={topic} />
          ) : path === 'glossary' ? (
            <Glossary />
          ) : (
            <Beginning />
          )}
        </div>
      </main>
    </div>
  );
}

interface LinkProps {
  readonly path: string;
  readonly isHere?: boolean;
  readonly onOpen: () => void;
  readonly children: React.ReactNode;
}

function PageLink({ path, isHere = false, onOpen, children }: LinkProps) {
  const { homeId = '' } = useParams();
  const { search } = useLocation();
  const [page, anchor] = path.split('#');
  return (
    <Link
      to={`/h/${homeId}/handbook${page ? `/${page}` : ''}${search}${anchor ? `#${anchor}` : ''}`}
      aria-current={isHere ? 'page' : undefined}
      className={isHere ? 'font-semibold' : 'hover:underline'}
      onClick={onOpen}
    >
      {children}
    </Link>
  );
}

function Beginning() {
  return (
    <>
      <h1 className="text-xl">Handbook</h1>
      <h2 className="mt-4 text-[16px]">Before you touch anything</h2>
      <ul className="mt-1 list-disc pl-5">
        {CAUTIONS.map((text) => (
          <li key={text}>{text}</li>
        ))}
      </ul>
      <h2 className="mt-5 text-[16px]">Conventions</h2>
      <p className="mt-1">
        Powers are means over the log’s step; power × duration is energy. Days are those of the site’s time
        zone, of 23 or 25 hours when the clocks change. Missing is missing: gaps of up to three steps are
        bridged in a straight line and marked, longer ones stay out of every sum, and totals are never scaled
        up. Every interval bounds its value at about 95 %; it joins the meters’ gain and zero errors, the last
        digit of the log and, where windows are counted, their spread.
      </p>
      <h2 className="mt-5 text-[16px]">What is where</h2>
      <dl className="mt-1">
        {TOPICS.map(({ path, title, answers }) => (
          <div key={path} className="border-t border-rule py-1">
            <dt className="font-semibold">
              <PageLink path={path} onOpen={() => undefined}>
                <span className="quiet">{title}</span>
              </PageLink>
            </dt>
            <dd>{answers}</dd>
          </div>
        ))}
      </dl>
    </>
  );
}

function TopicPage({
  topic: { title, answers, paragraphs, figures, picture, path },
}: {
  readonly topic: Topic;
}) {
  return (
    <>
      <h1 className="text-xl">{title}</h1>
      <p className="text-faint">{answers}</p>
      {paragraphs.map((text) => (
        <p key={text} className="mt-2">
          {localized(text)}
        </p>
      ))}
      {picture && (
        <figure className="mt-3">
          <img
            src={PICTURES[`../../../../docs/screenshots/${picture.name}.png`]}
            alt={`${picture.says}, in the demo home.`}
            width={1280}
            height={800}
            loading="lazy"
            className="h-auto w-full border border-rule-2"
          />
          <figcaption className="text-[12.5px] text-faint">{picture.says}: the demo home.</figcaption>
        </figure>
      )}
      {figures.length > 0 && <Figures topic={path} />}
    </>
  );
}

function Glossary() {
  return (
    <>
      <h1 className="text-xl">Glossary</h1>
      <dl className="mt-2">
        {TERMS.map(({ word, means }) => (
          <div
            key={word}
            id={word}
            className="grid gap-x-4 border-t border-rule py-1 sm:grid-cols-[170px_minmax(0,1fr)]"
          >
            <dt className="font-semibold">{word}</dt>
            <dd>{means}</dd>
          </div>
        ))}
      </dl>
    </>
  );
}

function Results({ query, onOpen }: { readonly query: string; readonly onOpen: () => void }) {
  const results = searched(query, TERMS);
  return (
    <>
      <h1 className="text-xl">In the Handbook: “{query}”</h1>
      <p role="status" className="text-faint">
        {results.length === 0
          ? 'Nothing of it is in the Handbook. Try one word of it.'
          : `${results.length} found`}
      </p>
      <ul className="mt-2">
        {results.map(({ path, title, says, page }) => (
          <li key={path} className="border-t border-rule py-1">
            <PageLink path={path} onOpen={onOpen}>
              <span className="quiet font-semibold">{title}</span>
            </PageLink>{' '}
            <span className="text-faint">{page}</span>
            <p>{says}</p>
          </li>
        ))}
      </ul>
    </>
  );
}
