import '@fontsource-variable/bricolage-grotesque';
import '@fontsource-variable/hanken-grotesk';
import '@fontsource-variable/jetbrains-mono';
import CssBaseline from '@mui/material/CssBaseline';
import InitColorSchemeScript from '@mui/material/InitColorSchemeScript';
import { ThemeProvider } from '@mui/material/styles';
import { useContext, useSyncExternalStore, type ReactNode } from 'react';
import {
  isRouteErrorResponse,
  Links,
  Meta,
  Outlet,
  Scripts,
  ScrollRestoration,
  useRouteError,
} from 'react-router';
import { messageOf } from '~/core/fault';
import { NonceContext } from './server/nonce';
import './theme/base.css';
import './theme/sound.css';
import './theme/computer.css';
import './theme/home.css';
import './theme/files.css';
import './theme/parts.css';
import './theme/plan.css';
import './theme/delivery.css';
import './theme/vault.css';
import './theme/air.css';
import './theme/guests.css';
import './theme/keys.css';
import './theme/windows.css';
import './theme/start.css';
import { paletteCss } from './theme/palette';
import { theme } from './theme/theme';
import './words/words';

export function Layout({ children }: { children: ReactNode }) {
  const nonce = useContext(NonceContext);
  return (
    <html lang="en" suppressHydrationWarning>
      <head>
        <meta charSet="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <Meta />
        <Links />
        <style dangerouslySetInnerHTML={{ __html: paletteCss() }} />
      </head>
      <body>
        <InitColorSchemeScript attribute="data-theme" defaultMode="dark" nonce={nonce} />
        {children}
        <ScrollRestoration nonce={nonce} />
        <Scripts nonce={nonce} />
      </body>
    </html>
  );
}

export const meta = () => [{ title: 'Dolomite' }];
export const links = () => [{ rel: 'icon', href: '/favicon.svg', type: 'image/svg+xml' }];

const never = () => () => undefined;

export default function Root() {
  // What the server drew looks alive before it is: until then nothing takes a press that would come to nothing.
  const alive = useSyncExternalStore(
    never,
    () => true,
    () => false,
  );
  return (
    <ThemeProvider theme={theme} defaultMode="dark">
      <CssBaseline />
      <div inert={!alive} style={{ display: 'contents' }}>
        <Outlet />
      </div>
    </ThemeProvider>
  );
}

export function ErrorBoundary() {
  const error = useRouteError();
  const message = isRouteErrorResponse(error)
    ? error.status === 404
      ? 'There is nothing at this address.'
      : String(error.data || error.statusText)
    : messageOf(error);
  return (
    <main style={{ padding: 48, maxWidth: 640 }}>
      <h1>Something went wrong</h1>
      <p>{message}</p>
      <p>A running broadcast continues: the relay shows viewers the cover until the studio is back.</p>
      <p>
        <a href="/" style={{ color: 'var(--glacier)' }}>
          Open the studio again
        </a>
      </p>
    </main>
  );
}
