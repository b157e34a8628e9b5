import i18next from 'i18next';
import { initReactI18next } from 'react-i18next';
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

export { useTranslation } from 'react-i18next';
