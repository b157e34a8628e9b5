import Button from '@mui/material/Button';
import type { Audited } from '~/core/access/roles';
import { computerOrderSchema } from '~/protocol/access';
import { AccessList } from '../computer/access-list';
import { WHEN } from '../computer/format';
import { ViewerDataPanel } from '../computer/viewer-data';
import { faultResponse, studioOf } from '../server/context.server';
import { formOf } from '../server/form.server';
import { Panel } from '../studio/panel';
import { ThemeSwitch } from '../studio/theme-switch';
import type { Route } from './+types/computer';

export const meta = () => [{ title: 'This computer – Dolomite' }];

/** Who may do what on this computer, who did, and what is kept of viewers. */
export function loader({ context }: Route.LoaderArgs) {
  const { access, viewerData } = studioOf(context);
  return {
    entries: access.list(),
    audit: access.audited(),
    me: context.visitor.id,
    viewerData: viewerData.facts(),
  };
}

/** intent=revoke | keepFor | find | forget */
export async function action({ request, context }: Route.ActionArgs) {
  const studio = studioOf(context);
  const { access, viewerData } = studio;
  const { error, value } = computerOrderSchema.validate(Object.fromEntries(await formOf(request)));
  if (error) return Response.json({ message: error.message }, { status: 400 });
  try {
    switch (value.intent) {
      case 'revoke':
        access.revoke(context.visitor, value.id);
        return Response.json({ message: 'Revoked.' });
      case 'keepFor':
        viewerData.keepFor(value.days, Date.now());
        return Response.json({});
      case 'find':
        return Response.json({ found: viewerData.find(value.letters) });
      case 'forget': {
        const count = studio.forget(value.platform, value.viewer);
        access.audit(context.visitor, 'deleted', `everything of a viewer on ${value.platform}`);
        return Response.json({ message: `Deleted: ${count}` });
      }
    }
  } catch (fault) {
    return faultResponse(fault);
  }
}

const AUDIT_WORDS: Record<Audited, string> = {
  signedIn: 'Signed in',
  signInRefused: 'Was refused at sign-in',
  linkMade: 'Made a link',
  revoked: 'Revoked',
  secretSet: 'Set a stream key or password',
  secretRemoved: 'Removed a stream key or password',
  wentLive: 'Went live',
  stopped: 'Stopped the broadcast',
  deleted: 'Deleted',
  exported: 'Exported',
  restored: 'Restored a backup',
};

export default function Computer({ loaderData: { entries, audit, me, viewerData } }: Route.ComponentProps) {
  return (
    <main
      style={{
        ...{ height: '100vh', display: 'grid', gridTemplateRows: 'auto minmax(0, 1fr)', gap: 14 },
        ...{ padding: '16px 20px', maxWidth: 1180, margin: '0 auto', boxSizing: 'border-box' },
      }}
    >
      <header style={{ display: 'flex', alignItems: 'center', gap: 12 }}>
        <h1 style={{ font: '700 22px "Bricolage Grotesque Variable"', margin: 0, flex: 1 }}>This computer</h1>
        <ThemeSwitch />
        <Button component="a" href="/" sx={{ bgcolor: 'var(--raised)' }}>
          Home
        </Button>
      </header>
      <div style={{ display: 'grid', gridTemplateColumns: '3fr 2fr', gap: 14, minHeight: 0 }}>
        <div
          style={{
            display: 'grid',
            gridTemplateRows: 'minmax(0, auto) minmax(0, 1fr)',
            gap: 14,
            minHeight: 0,
          }}
        >
          <Panel label="Who may do what" title="Who may do what">
            <p style={{ color: 'var(--quiet)', margin: '0 0 10px', lineHeight: 1.45 }}>
              Each browser here may open this studio until you revoke it. To sign another one in, type{' '}
              <code>npm run sign-in</code> where Dolomite runs and open the address it prints.
            </p>
            <AccessList entries={entries} me={me} />
          </Panel>
          <Panel label="What is kept of viewers" title="What is kept of viewers">
            <ViewerDataPanel facts={viewerData} />
          </Panel>
        </div>
        <Panel label="What was done" title="What was done" style={{ minHeight: 0 }}>
          <ol style={{ listStyle: 'none', margin: 0, padding: 0 }} tabIndex={0} aria-label="What was done">
            {audit.map(({ seq, atMs, who, what, about }) => (
              <li key={seq} style={{ padding: '7px 0', borderBottom: '1px solid var(--line)' }}>
                <div style={{ display: 'flex', gap: 8, alignItems: 'baseline' }}>
                  <b style={{ flex: 1, fontWeight: 600 }}>{AUDIT_WORDS[what]}</b>
                  <span className="figure" style={{ color: 'var(--quiet)', fontSize: 12 }}>
                    {WHEN.format(atMs)}
                  </span>
                </div>
                <div style={{ color: 'var(--quiet)', fontSize: 13 }}>
                  {who}
                  {about && about !== who ? ` · ${about}` : ''}
                </div>
              </li>
            ))}
          </ol>
        </Panel>
      </div>
    </main>
  );
}
