import createCache from '@emotion/cache';
import { CacheProvider } from '@emotion/react';
import { Component, useEffect, useMemo, type ReactNode } from 'react';
import { createPortal } from 'react-dom';
import { WindowId } from '../studio/live-view';
import { messageOf } from '~/core/fault';
import { useStudio } from '../studio/studio-context';
import { en } from '../words/en';
import type { OwnWindow } from './own-windows';

/** What stands in a window of its own: drawn by the desk's page, with views that live with their window. */
export function OwnWindowPortal({
  own,
  title,
  children,
}: {
  own: OwnWindow;
  title: string;
  children: ReactNode;
}) {
  const { desk } = useStudio();
  const { window: opened, id } = own;
  const cache = useMemo(() => createCache({ key: 'own', container: opened.document.head }), [opened]);
  useEffect(() => {
    opened.document.title = title;
  }, [opened, title]);
  useEffect(() => {
    const tell = () => desk.setVisible(id, opened.document.visibilityState === 'visible');
    tell();
    opened.document.addEventListener('visibilitychange', tell);
    return () => opened.document.removeEventListener('visibilitychange', tell);
  }, [desk, id, opened]);
  return createPortal(
    <CacheProvider value={cache}>
      <WindowId value={id}>
        <WindowBoundary>{children}</WindowBoundary>
      </WindowId>
    </CacheProvider>,
    opened.document.body,
  );
}

/** What fails in a window stays in it: the desk that drew it goes on. */
class WindowBoundary extends Component<{ children: ReactNode }, { failed: string | null }> {
  override state = { failed: null };

  static getDerivedStateFromError(error: unknown) {
    return { failed: messageOf(error) };
  }

  override render() {
    const { failed } = this.state;
    if (failed === null) return this.props.children;
    return (
      <p role="alert" className="own-failed">
        {en.windows.failed.replace('{{why}}', failed)}
      </p>
    );
  }
}
