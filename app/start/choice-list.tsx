import type { ReactNode } from 'react';

export interface Choice {
  id: string;
  title: string;
  hint?: string;
}

/** One of a few, each with a line of what it means; arrow keys go through them as through radio buttons. */
export function ChoiceList({
  label,
  choices,
  chosen,
  onChoose,
  children,
}: {
  label: string;
  choices: readonly Choice[];
  chosen: string | null;
  onChoose: (id: string) => void;
  children?: ReactNode;
}) {
  return (
    <div role="radiogroup" aria-label={label} className="start-choices">
      {choices.map(({ id, title, hint }, i) => (
        <button
          key={id}
          type="button"
          role="radio"
          aria-checked={id === chosen}
          tabIndex={id === chosen || (chosen === null && i === 0) ? 0 : -1}
          onClick={() => onChoose(id)}
          onKeyDown={(event) => {
            const by = { ArrowDown: 1, ArrowRight: 1, ArrowUp: -1, ArrowLeft: -1 }[event.key];
            if (!by) return;
            event.preventDefault();
            const next = (i + by + choices.length) % choices.length;
            onChoose(choices[next].id);
            (event.currentTarget.parentElement!.children[next] as HTMLElement).focus();
          }}
        >
          <b>{title}</b>
          {hint && <span>{hint}</span>}
        </button>
      ))}
      {children}
    </div>
  );
}
