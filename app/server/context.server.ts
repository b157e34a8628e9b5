import type { AppLoadContext } from 'react-router';
import { isFault } from '~/core/fault';
import type { Visitor } from '~/server/access/access';
import type { OpenShow } from '~/server/web/open-show';
import type { Studio } from '~/server/web/studio';

declare module 'react-router' {
  interface AppLoadContext {
    studio: Studio;
    /** Whoever asks. */
    visitor: Visitor;
    /** Of the page's own scripts. */
    nonce: string;
  }
}

export function studioOf(context: AppLoadContext): Studio {
  return context.studio;
}

/** A show that somebody works on. @throws Response 404 when it is not here any more */
export function openShowOf(context: AppLoadContext, showId: string): OpenShow {
  try {
    return context.studio.open.get(showId);
  } catch (error) {
    throw faultResponse(error);
  }
}

/** Expected failures become an answer with their words; anything else goes on as the bug it is. */
export function faultResponse(error: unknown): Response {
  if (!isFault(error)) throw error;
  const status = error.code.endsWith('.missing') ? 404 : 400;
  return Response.json({ code: error.code, message: error.message }, { status });
}
