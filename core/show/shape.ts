/**
 * What the settings of a kind may be, as data: beside the kind itself, and read by whatever checks records from outside.
 * Lengths are in characters, `min` and `max` belong to the range.
 */
export type Field = (
  | { is: 'flag' }
  | { is: 'choice'; of: readonly (string | number)[] }
  | { is: 'number'; min: number; max: number; whole: boolean }
  | { is: 'words'; min: number; max: number; like?: { pattern: RegExp; say: string } }
  /** `#rrggbb` or `#rrggbbaa`. */
  | { is: 'colour' }
  /** Of a record or a file; `or` stands for none. */
  | { is: 'id'; or?: '' | null }
  | { is: 'list'; of: Field; min: number; max: number }
  | { is: 'fields'; of: Record<string, Field> }
  /** Some of these names, each with a value. */
  | { is: 'named'; names: readonly string[]; of: Field }
) & { optional?: true };

/** A field for each setting of a kind. @template By the field that names the kind */
export type ShapeOf<T, By extends 'of' | 'type'> = { [K in Exclude<keyof T, By>]-?: Field };

export const flag: Field = { is: 'flag' };
export const colour: Field = { is: 'colour' };
export const choice = (of: readonly (string | number)[]): Field => ({ is: 'choice', of });
export const number = (min: number, max: number): Field => ({ is: 'number', min, max, whole: false });
export const whole = (min: number, max: number): Field => ({ is: 'number', min, max, whole: true });
export const words = (max: number, min = 0): Field => ({ is: 'words', min, max });
export const id: Field = { is: 'id' };
export const idOr = (or: '' | null): Field => ({ is: 'id', or });
export const list = (of: Field, max: number, min = 0): Field => ({ is: 'list', of, min, max });
export const fields = (of: Record<string, Field>): Field => ({ is: 'fields', of });
export const optional = (field: Field): Field => ({ ...field, optional: true });

/** Files of the show in an order. */
export const files = (max: number, min = 0): Field =>
  list(fields({ assetId: id, name: words(200, min) }), max, min);
