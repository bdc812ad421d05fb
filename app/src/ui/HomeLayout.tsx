import type { RollDay } from '@long-tally/core';
import { useEffect, useState } from 'react';
import {
  Link,
  NavLink,
  Outlet,
  useLocation,
  useNavigate,
  useOutletContext,
  useParams,
  useSearchParams,
} from 'react-router';
import { Menu, MenuButton, MenuHeading, MenuItem, MenuItems, MenuSection } from '@headlessui/react';
import { useLiveQuery } from 'dexie-react-hooks';
import { ChevronDown, Moon, Search as SearchIcon, Settings as SettingsIcon, Sun } from 'lucide-react';
import { db } from '../db/database.js';
import { allHomes } from '../db/homes.js';
import { useOverviewQuery } from '../store/api.js';
import { homeOpened, settingsChanged } from '../store/preferences.js';
import { useAppDispatch } from '../store/store.js';
import type { Overview } from '../protocol.js';
import { bringFiles } from '../workers/imports.js';
import { BookKeeper } from './BookKeeper.js';
import { Hatches } from './Hatches.js';
import { ImportLine } from './ImportLine.js';
import { KeyList } from './KeyList.js';
import { Looks } from './Looks.js';
import { NewVersion } from './NewVersion.js';
import { Search } from './Search.js';
import { UndoLine } from './UndoLine.js';
import { WindowDrop } from './WindowDrop.js';
import { useKeys } from './useKeys.js';
import { useIsDark } from './useSettings.js';

interface ViewGroup {
  readonly name: string;
  readonly views: readonly { readonly path: string; readonly name: string; readonly key: string }[];
}

/** The views in the groups in which they are used: reading the range, trying and deciding, keeping the book. */
const GROUPS: readonly ViewGroup[] = [
  {
    name: 'The range',
    views: [
      { path: 'days', name: 'Days', key: 'd' },
      { path: 'account', name: 'Account', key: 'a' },
      { path: 'losses', name: 'Losses', key: 'l' },
      { path: 'wear', name: 'Wear', key: 'w' },
      { path: 'outages', name: 'Outages', key: 'u' },
      { path: 'money', name: 'Money', key: 'm' },
    ],
  },
  {
    name: 'Trying and deciding',
    views: [
      { path: 'trials', name: 'Trials', key: 't' },
      { path: 'what-if', name: 'What-if', key: 'i' },
    ],
  },
  {
    name: 'The book',
    views: [
      { path: 'sources', name: 'Sources', key: 'o' },
      { path: 'system', name: 'System', key: 's' },
      { path: 'journal', name: 'Journal', key: 'j' },
      { path: 'report', name: 'Report', key: 'r' },
      { path: 'handbook', name: 'Handbook', key: 'h' },
    ],
  },
];
const VIEWS = GROUPS.flatMap(({ views }) => views);
const NO_DAYS: readonly RollDay[] = [];

/** The frame around every view of a home: its name, the views, the theme and the keys. */
export function HomeLayout() {
  const { homeId = '' } = useParams();
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const [params] = useSearchParams();
  const [keysShown, setKeysShown] = useState(false);
  const [searching, setSearching] = useState(false);
  const { currentData: data, error, refetch } = useOverviewQuery(homeId);
  // Whatever changes the home, in this tab, in another or in a worker, raises its revision in the store.
  const revision = useLiveQuery(async () => (await db.homes.get(homeId))?.revision ?? null, [homeId]);
  const shown = data?.home.revision;
  useEffect(() => {
    if (shown !== undefined && revision !== undefined && revision !== shown) void refetch();
  }, [shown, revision, refetch]);
  const search = rangeSearch(params);
  useEffect(() => {
    if (data) dispatch(homeOpened(data.home.id));
  }, [data, dispatch]);
  useKeys({
    '?': () => setKeysShown(true),
    '/': () => setSearching(true),
    ...Object.fromEntries(
      [...VIEWS, { path: 'settings', key: 'e' }].map(({ path, key }) => [
        `g ${key}`,
        // The address itself, not what was last drawn of it: a range chosen a moment ago goes along.
        () =>
          void navigate(`/h/${homeId}/${path}${rangeSearch(new URLSearchParams(window.location.search))}`),
      ]),
    ),
  });
  const bring = (files: readonly File[]) => {
    if (!data) return;
    void bringFiles(data.home, files);
    void navigate(`/h/${homeId}/sources`);
  };
  return (
    <WindowDrop
      says={`Drop the files: they are looked at as logs of ${data?.home.system.name ?? homeId}.`}
      onFiles={bring}
      className="flex h-full flex-col"
    >
      <a href="#view" className="sr-only focus:not-sr-only">
        Skip to the view
      </a>
      <header className="no-print flex flex-wrap items-baseline gap-x-6 gap-y-1 border-b border-rule-2 px-5 pt-2.5 pb-2">
        <Link to="/?choose" className="font-serif text-lg font-semibold tracking-wide">
          Long Tally
        </Link>
        <HomeMenu name={data?.home.system.name ?? homeId} />
        <Views to={(path) => `/h/${homeId}/${path}${search}`} />
        <div className="ml-auto flex gap-4 self-center text-faint">
          <BookKeeper homeId={homeId} />
          <button type="button" onClick={() => setSearching(true)} aria-label="Search" title="Search (/)">
            <SearchIcon size={16} aria-hidden />
          </button>
          <ThemeButton />
          <Link
            to={`/h/${homeId}/settings${search}`}
            className="flex self-center"
            aria-label="Settings"
            title="Settings (g e)"
          >
            <SettingsIcon size={16} aria-hidden />
          </Link>
          <button
            type="button"
            onClick={() => setKeysShown(true)}
            aria-label="Keys"
            title="Keys (?)"
            className="px-1 font-semibold"
          >
            ?
          </button>
        </div>
      </header>
      <NewVersion />
      <ImportLine homeId={homeId} />
      <Looks homeId={homeId} />
      <Hatches />
      {searching && data && (
        <Search
          homeId={homeId}
          timeZone={data.home.system.timeZone}
          days={data.roll?.days ?? NO_DAYS}
          views={VIEWS}
          search={search}
          onClose={() => setSearching(false)}
        />
      )}
      <KeyList shown={keysShown} onClose={() => setKeysShown(false)} />
      {error ? (
        <p role="alert" className="p-6">
          {error.message}{' '}
          <button type="button" className="quiet" onClick={() => void refetch()}>
            Try again
          </button>{' '}
          <Link className="quiet" to="/?choose">
            Choose another home
          </Link>
        </p>
      ) : data ? (
        <Outlet context={data} />
      ) : (
        <p role="status" className="p-6 text-faint">
          Adding up the days …
        </p>
      )}
      <UndoLine homeId={homeId} />
    </WindowDrop>
  );
}

interface ViewsProps {
  readonly to: (path: string) => string;
}

/** The way to every view: in one line where there is room, else in a menu. */
function Views({ to }: ViewsProps) {
  const { pathname } = useLocation();
  const current = VIEWS.find(({ path }) => pathname.split('/')[3] === path);
  return (
    <>
      <nav aria-label="Views" className="hidden text-[14.5px] lg:flex">
        {GROUPS.map(({ name, views }, i) => (
          <div
            key={name}
            role="group"
            aria-label={name}
            className={`flex gap-4 xl:gap-5 ${i > 0 ? 'ml-3 border-l border-rule-2 pl-3' : ''}`}
          >
            {views.map((view) => (
              <NavLink
                key={view.path}
                to={to(view.path)}
                className={({ isActive }) =>
                  isActive ? 'border-b-2 border-ink pb-0.5 font-semibold' : 'pb-0.5 hover:underline'
                }
              >
                {view.name}
              </NavLink>
            ))}
          </div>
        ))}
      </nav>
      <Menu as="div" className="lg:hidden">
        <MenuButton className="flex items-center gap-1 border border-rule-2 px-2 py-0.5">
          {current?.name ?? 'Views'}
          <ChevronDown size={14} aria-hidden className="text-faint" />
        </MenuButton>
        <MenuItems
          anchor="bottom start"
          className="z-20 border border-rule-2 bg-paper p-1 focus:outline-none"
        >
          {GROUPS.map(({ name, views }) => (
            <MenuSection key={name}>
              <MenuHeading className="px-3 pt-1 text-[12px] text-faint">{name}</MenuHeading>
              {views.map((view) => (
                <MenuItem key={view.path}>
                  <Link
                    to={to(view.path)}
                    className={`block px-3 py-1.5 data-focus:bg-selected-2 ${view === current ? 'font-semibold' : ''}`}
                  >
                    {view.name}
                  </Link>
                </MenuItem>
              ))}
            </MenuSection>
          ))}
        </MenuItems>
      </Menu>
    </>
  );
}

/** The open home, for the views inside the layout. */
export function useOverview(): Overview {
  return useOutletContext<Overview>();
}

function rangeSearch(params: URLSearchParams): string {
  const [from, to] = [params.get('from'), params.get('to')];
  return from && to ? `?from=${from}&to=${to}` : '';
}

function ThemeButton() {
  const dispatch = useAppDispatch();
  const isDark = useIsDark();
  const other = isDark ? 'light' : 'dark';
  return (
    <button
      type="button"
      onClick={() => dispatch(settingsChanged({ theme: other }))}
      aria-label={`Change to the ${other} theme`}
      title={`Change to the ${other} theme`}
    >
      {isDark ? <Sun size={16} aria-hidden /> : <Moon size={16} aria-hidden />}
    </button>
  );
}

function HomeMenu({ name }: { readonly name: string }) {
  const homes = useLiveQuery(allHomes)?.homes ?? [];
  return (
    <Menu>
      <MenuButton className="flex items-center gap-1 font-semibold">
        {name}
        <ChevronDown size={14} aria-hidden className="text-faint" />
      </MenuButton>
      <MenuItems
        anchor="bottom start"
        className="z-20 border border-rule-2 bg-paper p-1 shadow-none focus:outline-none"
      >
        {homes.map(({ id, system }) => (
          <MenuItem key={id}>
            <Link to={`/h/${id}/days`} className="block px-3 py-1 data-focus:bg-selected-2">
              {system.name}
            </Link>
          </MenuItem>
        ))}
        <MenuItem>
          <Link to="/?choose" className="block border-t border-rule px-3 py-1 data-focus:bg-selected-2">
            Open or add another home
          </Link>
        </MenuItem>
      </MenuItems>
    </Menu>
  );
}
