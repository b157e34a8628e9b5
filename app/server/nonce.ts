import { createContext } from 'react';

/** The number by which a page's own inline scripts are known; undefined in the browser, which hides it from scripts. */
export const NonceContext = createContext<string | undefined>(undefined);
