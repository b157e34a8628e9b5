import i18next, { type TFunction } from 'i18next';
import { initReactI18next, useTranslation as useLanguage } from 'react-i18next';
import { en } from './en';

declare module 'i18next' {
  interface CustomTypeOptions {
    resources: { translation: typeof en };
  }
}

// All texts come with the page: nothing is loaded later, so it is ready at once, on the server too.
void i18next.use(initReactI18next).init({
  lng: 'en',
  resources: { en: { translation: en } },
  initAsync: false,
  // React escapes by itself.
  interpolation: { escapeValue: false },
  returnNull: false,
});

/** Texts without values, looked up once: a place asks for some hundred at each edit. */
const known = new Map<string, string>();

/** i18next's own, without what it says of its ways. */
const look = i18next.t as (key: unknown, values?: Record<string, unknown>) => string;

const t = ((key: unknown, values?: Record<string, unknown>): string => {
  if (values !== undefined || typeof key !== 'string') return look(key, values);
  let text = known.get(key);
  if (text === undefined) known.set(key, (text = look(key)));
  return text;
}) as TFunction;

i18next.on('languageChanged', () => known.clear());

const words = { t };

/** The catalogue, for parts of the page: they are drawn anew when the language is another. */
export function useTranslation(): { t: TFunction } {
  useLanguage();
  return words;
}
