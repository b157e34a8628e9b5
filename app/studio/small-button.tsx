import type { MouseEvent, ReactNode } from 'react';

/** A small button with an icon, in rows and bars. Plain, since a list of layers has dozens that are drawn with every edit. */
export function SmallButton({
  label,
  title,
  onClick,
  disabled,
  pressed,
  children,
}: {
  label: string;
  title?: string;
  onClick: (event: MouseEvent<HTMLElement>) => void;
  disabled?: boolean;
  pressed?: boolean;
  children: ReactNode;
}) {
  return (
    <button
      type="button"
      className="small-button"
      aria-label={label}
      aria-pressed={pressed}
      title={title ?? label}
      disabled={disabled}
      onClick={onClick}
    >
      {children}
    </button>
  );
}
