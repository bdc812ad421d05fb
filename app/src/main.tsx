import { StrictMode, type ReactNode } from 'react';
import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { RouterProvider } from 'react-router/dom';
import { db } from './db/database.js';
import './index.css';
import { keepOffline } from './offline.js';
import { router } from './routes.js';
import { store } from './store/store.js';
import { useSettings } from './ui/useSettings.js';
import { Refused } from './ui/Refused.js';

const root = createRoot(document.getElementById('root')!);
const show = (page: ReactNode) => root.render(<StrictMode>{page}</StrictMode>);

keepOffline();

/** The pages, drawn anew when the reader changes how things are written. */
function Shown() {
  const { numbers, dates, temperature, energyDigits } = useSettings();
  return <RouterProvider key={`${numbers} ${dates} ${temperature} ${energyDigits}`} router={router} />;
}

// Without a place for the data there is nothing to show; that is said before anything is brought.
db.open().then(
  () =>
    show(
      <Provider store={store}>
        <Shown />
      </Provider>,
    ),
  (error: unknown) => show(<Refused why={(error as Error).message} />),
);
