/** How the pages look that a server gives out by itself: small, without a build, in the studio's own colours. */
export const PLAIN_STYLE = `
:root { color-scheme: dark light; --ground: #14181d; --surface: #1c2229; --text: #ece8e1; --quiet: #a7afb7; --line: #38424e; --glacier: #63bdbb; }
@media (prefers-color-scheme: light) {
  :root { --ground: #f1eee8; --surface: #fbfaf7; --text: #22272d; --quiet: #5c656e; --line: #d5cfc4; --glacier: #1b6f6d; }
}
* { box-sizing: border-box; }
body { margin: 0; min-height: 100vh; display: grid; place-items: center; background: var(--ground); color: var(--text); font: 16px/1.5 "Hanken Grotesk Variable", system-ui, sans-serif; }
main { width: min(34rem, calc(100vw - 2rem)); background: var(--surface); border: 1px solid var(--line); border-radius: 12px; padding: 28px 32px; }
h1 { margin: 0 0 4px; font: 700 22px/1.2 "Bricolage Grotesque Variable", system-ui, sans-serif; }
p { margin: 8px 0; color: var(--quiet); }
label { display: block; margin: 18px 0 6px; }
input { width: 100%; height: 44px; padding: 0 12px; border-radius: 8px; border: 1px solid var(--line); background: var(--ground); color: inherit; font: 14px "JetBrains Mono Variable", monospace; }
button { margin-top: 14px; height: 44px; padding: 0 22px; border-radius: 22px; border: 1px solid var(--glacier); background: transparent; color: inherit; font: inherit; font-weight: 600; cursor: pointer; }
:focus-visible { outline: 2px solid var(--glacier); outline-offset: 2px; }
[role=status] { min-height: 3em; color: var(--text); }
code { color: var(--text); font: 14px "JetBrains Mono Variable", monospace; }
svg { display: block; width: 100%; height: 46px; margin: 4px 0 10px; }
`;
