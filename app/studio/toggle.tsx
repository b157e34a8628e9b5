import FormControlLabel from '@mui/material/FormControlLabel';
import Switch from '@mui/material/Switch';
import { steady } from './steady';

/** A switch with its words beside it. */
export const Toggle = steady(function Toggle({
  label,
  hint,
  on,
  onChange,
}: {
  label: string;
  /** More words, where the pointer rests. */
  hint?: string;
  on: boolean;
  onChange: (on: boolean) => void;
}) {
  return (
    <FormControlLabel
      sx={{ ml: -0.5, display: 'flex', '& .MuiFormControlLabel-label': { fontSize: 12.5 } }}
      control={<Switch size="small" checked={on} onChange={(_, next) => onChange(next)} />}
      label={label}
      title={hint}
    />
  );
});
