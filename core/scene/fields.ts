/** Puts fields into a text: `{{host}}` becomes the field's value; an unknown field stays as written, so that it is seen. */
export function fillFields(text: string, fields: Readonly<Record<string, string>>): string {
  return text.replace(/\{\{\s*([\w.-]+)\s*\}\}/g, (whole, name: string) =>
    Object.hasOwn(fields, name) ? fields[name] : whole,
  );
}

/** Names of the fields in a text that have no value, each once. */
export function missingFields(text: string, fields: Readonly<Record<string, string>>): string[] {
  const names = [...text.matchAll(/\{\{\s*([\w.-]+)\s*\}\}/g)].map((match) => match[1]);
  return [...new Set(names)].filter((name) => !Object.hasOwn(fields, name));
}
