import TextField, { type TextFieldProps } from '@mui/material/TextField';
import {
  useController,
  type Control,
  type FieldPath,
  type FieldValues,
  type RegisterOptions,
} from 'react-hook-form';

/** A field of a form: what is wrong with it stands below it once somebody has left it, or wanted to send it. */
export function FormField<V extends FieldValues>({
  control,
  name,
  rules,
  help,
  ...props
}: {
  control: Control<V>;
  name: FieldPath<V>;
  rules?: Omit<RegisterOptions<V, FieldPath<V>>, 'valueAsNumber' | 'valueAsDate' | 'setValueAs' | 'disabled'>;
  /** What stands there while nothing is wrong. */
  help?: string;
} & Omit<TextFieldProps, 'name' | 'value' | 'onChange' | 'error' | 'helperText'>) {
  const { field, fieldState } = useController({ control, name, rules });
  const { ref, ...given } = field;
  return (
    <TextField
      {...props}
      {...given}
      inputRef={ref}
      error={fieldState.invalid}
      helperText={fieldState.error?.message ?? help}
      // The studio's keys are letters, too.
      onKeyDown={(event) => event.stopPropagation()}
    />
  );
}
