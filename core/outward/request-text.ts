/** A request to another program, with the show's fields filled into its address and its body. */
import type { RequestRecord } from '../show/rundown-records';

const FIELD = /\{\{\s*([\w-]{1,40})\s*\}\}/g;

const filled = (
  text: string,
  fields: Readonly<Record<string, string>>,
  as: (value: string) => string,
): string => text.replace(FIELD, (whole, name: string) => (name in fields ? as(fields[name]) : whole));

/** Whether a body is meant as JSON, where words of a field must not end the text they stand in. */
export const isJson = (body: string): boolean => /^\s*[[{"]/.test(body);

/**
 * Address and body as they are sent. What a field says can be neither another address nor another part of the JSON: it is
 * percent-encoded in the one (RFC 3986 §2.1), escaped in the other (RFC 8259 §7).
 */
export function filledRequest(
  { url, body }: Pick<RequestRecord, 'url' | 'body'>,
  fields: Readonly<Record<string, string>>,
): { url: string; body: string } {
  return {
    url: filled(url, fields, encodeURIComponent),
    body: filled(body, fields, (value) => (isJson(body) ? JSON.stringify(value).slice(1, -1) : value)),
  };
}
