import Menu from '@mui/material/Menu';
import { useState, type ReactNode } from 'react';

/** A button with a menu of things to do. */
export function ActionMenu({
  label,
  words,
  className = 'chip tall',
  disabled,
  children,
}: {
  label: string;
  /** Shown in place of the label. */
  words?: ReactNode;
  className?: string;
  disabled?: boolean;
  children: (close: () => void) => ReactNode;
}) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <button
        type="button"
        className={className}
        aria-haspopup="menu"
        aria-label={words === undefined ? undefined : label}
        disabled={disabled}
        onClick={(e) => setAnchor(e.currentTarget)}
      >
        {words ?? label}
      </button>
      {anchor && (
        <Menu
          open
          anchorEl={anchor}
          onClose={() => setAnchor(null)}
          slotProps={{ paper: { sx: { maxHeight: 420 } } }}
        >
          {children(() => setAnchor(null))}
        </Menu>
      )}
    </>
  );
}
