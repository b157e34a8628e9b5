import i18next from 'i18next';
import { initReactI18next, useTranslation as useLanguage } from 'react-i18next';
import { en } from './en';

/** Every place in the catalogue that has a text. */
type PlacesIn<T, Before extends string = ''> = {
  [K in keyof T & string]: T[K] extends string ? `${Before}${K}` : PlacesIn<T[K], `${Before}${K}.`>;
}[keyof T & string];
/** Of texts that come in several numbers, the place without the number's form. */
type Bare<Place> = Place extends `${infer Name}_${'zero' | 'one' | 'two' | 'few' | 'many' | 'other'}`
  ? Name
  : Place;
export type Place = Bare<PlacesIn<typeof en>>;

/** A text of the catalogue, with its values filled in. i18next's own type takes minutes to check with so many texts. */
export type Translate = (place: Place, values?: Record<string, string | number>) => string;

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

const t: Translate = (key, values) => {
  if (values !== undefined) return look(key, values);
  let text = known.get(key);
  if (text === undefined) known.set(key, (text = look(key)));
  return text;
};

i18next.on('languageChanged', () => known.clear());

const words = { t };

/** The catalogue, for parts of the page: they are drawn anew when the language is another. */
export function useTranslation(): { t: Translate } {
  useLanguage();
  return words;
}
