import express, { type Express, type Response } from 'express';
import { BODY_BYTES } from '../../core/access/limits';
import { isFault } from '../../core/fault';
import { signInSchema } from '../../protocol/access';
import type { Access } from '../access/access';
import { browserName } from '../access/browser-name';
import { setCookie } from '../access/cookie';
import type { Guard } from './guard';
import { SIGN_IN_PAGE, SIGN_IN_SCRIPT, SIGNED_IN_PAGE, tokenIn } from './sign-in-page';

/** Where strangers come in. Behind the guard, whose table lets everybody go here. */
export function attachSignIn(
  app: Express,
  access: Access,
  guard: Pick<Guard, 'cookieName' | 'options'>,
): void {
  app.get('/sign-in', (_, response) => void page(response, SIGN_IN_PAGE));
  app.get('/sign-in.js', (_, response) => {
    response.type('text/javascript').set('cache-control', 'no-store').send(SIGN_IN_SCRIPT);
  });
  app.post(
    '/sign-in',
    express.json({ limit: BODY_BYTES.token }),
    express.urlencoded({ extended: false, limit: BODY_BYTES.token }),
    (request, response) => {
      const byForm = request.is('urlencoded') !== false;
      const { error, value } = signInSchema.validate(request.body);
      if (error)
        return void refuse(response, 400, 'Paste the token, or the whole address that Dolomite printed.');
      try {
        const { cookie } = access.signIn(tokenIn(value.token), browserName(request.get('user-agent') ?? ''));
        response.set('set-cookie', setCookie(guard.cookieName, cookie, guard.options.secure));
        // From another page's form the next step would not be ours, and the cookie would stay at home.
        if (byForm) page(response, SIGNED_IN_PAGE);
        else response.set('cache-control', 'no-store').json({ message: 'Signed in.' });
      } catch (fault) {
        if (!isFault(fault)) throw fault;
        refuse(response, fault.code === 'access.slow' ? 429 : 401, fault.message);
      }
    },
  );
}

function page(response: Response, html: string): void {
  response.type('html').set('cache-control', 'no-store').send(html);
}

function refuse(response: Response, status: number, message: string): void {
  response
    .status(status)
    .set('cache-control', 'no-store')
    .json({ code: `access.${status}`, message });
}
