/** The page that strangers get: it takes a token, pasted or from the address, and says what to do without one. */
import { PLAIN_STYLE } from '../pages/plain-style';

/** The page's own script; a file of the server's, so that no page here needs scripts in itself. */
export const SIGN_IN_SCRIPT = `
const form = document.querySelector('form');
const say = document.querySelector('[role=status]');
const field = form.elements.token;
// Where one wanted to go: a path of this studio, and no other address that looks like one.
const wanted = new URLSearchParams(location.search).get('next') ?? '/';
const next = /^\\/(?![\\/\\\\])/.test(wanted) ? wanted : '/';
async function signIn(token) {
  say.textContent = 'Signing in…';
  try {
    const answer = await fetch('/sign-in', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ token }),
    });
    const { message } = await answer.json();
    if (answer.ok) return location.replace(next);
    say.textContent = message;
  } catch {
    say.textContent = 'The studio does not answer. Is it still running? Start it again and take the new address.';
  }
  field.focus();
}
form.addEventListener('submit', (event) => {
  event.preventDefault();
  void signIn(field.value);
});
// What stands after the # is never sent to anybody; it leaves the address at once, and the history with it.
const token = location.hash.slice(1);
if (token) {
  history.replaceState(null, '', '/sign-in');
  void signIn(token);
} else field.focus();
`;

export const SIGN_IN_PAGE = `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>Sign in – Dolomite</title>
<link rel="icon" href="/favicon.svg" type="image/svg+xml">
<style>${PLAIN_STYLE}</style>
</head>
<body>
<main>
<h1>Sign in to your studio</h1>
<svg viewBox="0 0 100 46" preserveAspectRatio="none" aria-hidden="true"><path d="M0 34C10 34 14 22 24 24S40 30 46 22S62 6 70 10S86 36 100 32" fill="none" stroke="var(--line)" stroke-width="2" vector-effect="non-scaling-stroke"/></svg>
<p>This browser is not signed in. Open the address that Dolomite printed when it started, or type <code>npm run sign-in</code> where it runs and open what that prints.</p>
<form method="post" action="/sign-in">
<label for="token">Or paste the token, or the whole address</label>
<input id="token" name="token" type="password" autocomplete="off" spellcheck="false" required>
<button>Sign in</button>
<p role="status" aria-live="polite"></p>
</form>
</main>
<script src="/sign-in.js"></script>
</body>
</html>
`;

/** After a form of another page, such as the file that is opened at the start: the first step here is a page's of our own. */
export const SIGNED_IN_PAGE = `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>Dolomite</title><meta http-equiv="refresh" content="0;url=/"></head>
<body><a href="/">Open the studio</a></body></html>
`;

/** A token, or the end of an address that was pasted whole. */
export function tokenIn(pasted: string): string {
  return pasted.trim().replace(/^.*#/, '');
}
