import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import type { ReactNode } from 'react';
import { steady } from './steady';

interface Props<T extends string> {
  label: string;
  value: T;
  options: readonly { value: T; words: string }[];
  disabled?: boolean;
  /** The label is spoken and not shown. */
  bare?: boolean;
  onChange: (value: T) => void;
}

/** One of a few; an empty value is a choice like the others, and shows its words. */
export const SelectField = steady(function SelectField<T extends string>({
  label,
  value,
  options,
  disabled,
  bare,
  onChange,
}: Props<T>) {
  return (
    <TextField
      select
      label={bare ? undefined : label}
      value={value}
      disabled={disabled}
      onChange={({ target }) => onChange(target.value as T)}
      slotProps={{
        inputLabel: { shrink: true },
        select: { displayEmpty: true, MenuProps: { slotProps: { paper: { sx: { maxHeight: 420 } } } } },
        ...(bare && { htmlInput: { 'aria-label': label } }),
      }}
    >
      {options.map((option) => (
        <MenuItem key={option.value} value={option.value}>
          {option.words}
        </MenuItem>
      ))}
    </TextField>
  );
}) as <T extends string>(props: Props<T>) => ReactNode;
