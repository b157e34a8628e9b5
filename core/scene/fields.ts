/** Puts fields into a text: `{{host}}` becomes the field's value; an unknown field stays as written, so that it is seen. */
export function fillFields(text: string, fields: Readonly<Record<string, string>>): string {
  return text.replace(/\{\{\s*([\w-]+)\s*\}\}/g, (whole, name: string) =>
    Object.hasOwn(fields, name) ? fields[name] : whole,
  );
}
