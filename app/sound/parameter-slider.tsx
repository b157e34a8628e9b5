import { withMinus } from '~/core/format/numbers';
import { useId, useState } from 'react';
import { inRange, type ParameterRange, type Unit } from '~/core/sound/chain/chain-settings';

const STEPS = 1000;

/** How many digits make sense for a value in a unit. */
export function digitsOf(value: number, unit: Unit): number {
  if (unit === 'dB' || unit === 'dBTP') return 1;
  if (unit === ':1' || unit === 'Q') return Math.abs(value) < 10 ? 1 : 0;
  if (unit === 'ms') return value < 10 ? 1 : 0;
  return 0;
}

export function valueText(value: number, unit: Unit): string {
  const shown = withMinus(value.toFixed(digitsOf(value, unit)));
  return unit === ':1'
    ? `${shown} : 1`
    : unit === 'Q'
      ? `Q ${shown}`
      : unit === ''
        ? shown
        : `${shown} ${unit}`;
}

function toStep(value: number, { min, max, logarithmic }: ParameterRange): number {
  const share = logarithmic ? Math.log(value / min) / Math.log(max / min) : (value - min) / (max - min);
  return Math.round(share * STEPS);
}

function fromStep(step: number, { min, max, unit, logarithmic }: ParameterRange): number {
  const share = step / STEPS;
  const value = logarithmic ? min * (max / min) ** share : min + share * (max - min);
  return Number(value.toFixed(digitsOf(value, unit)));
}

/** One value of a processor: dragged, stepped by keys, or typed. */
export function ParameterSlider({
  of,
  label,
  range,
  value,
  onPreview,
  onCommit,
}: {
  /** What the value belongs to, for those who cannot see where it stands. */
  of: string;
  label?: string;
  range: ParameterRange;
  value: number;
  onPreview: (value: number) => void;
  onCommit: (value: number) => void;
}) {
  const id = useId();
  const [text, setText] = useState<string | null>(null);
  const [held, setHeld] = useState<number | null>(null);
  const shown = held ?? value;
  const name = label ?? range.label;
  const commitText = () => {
    const found = /-?\d*\.?\d+/.exec((text ?? '').replace('−', '-').replace(',', '.'));
    if (found) {
      const number = Number(found[0]);
      const kept = inRange(number, range);
      if (kept !== value) onCommit(kept);
    }
    setText(null);
  };
  const finish = () => {
    if (held === null) return;
    setHeld(null);
    if (held !== value) onCommit(held);
  };
  return (
    <div className="parameter">
      <label htmlFor={id}>{name}</label>
      <input
        className="figure parameter-value"
        aria-label={`${of}: ${name} in ${range.unit || 'figures'}`}
        value={text ?? valueText(shown, range.unit)}
        // The text stays as it is: one that changed now would lose what was selected.
        onFocus={(e) => e.target.select()}
        onChange={(e) => setText(e.target.value)}
        onBlur={commitText}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === 'Enter') e.currentTarget.blur();
          if (e.key === 'Escape') setText(null);
        }}
      />
      <input
        id={id}
        type="range"
        className="parameter-track"
        aria-label={`${of}: ${name}`}
        aria-valuetext={valueText(shown, range.unit)}
        min={0}
        max={STEPS}
        step={1}
        value={toStep(shown, range)}
        style={{ ['--share' as string]: `${toStep(shown, range) / 10}%` }}
        onChange={(e) => {
          const next = fromStep(Number(e.target.value), range);
          setHeld(next);
          onPreview(next);
        }}
        onPointerUp={finish}
        onKeyUp={finish}
        onBlur={finish}
      />
    </div>
  );
}
