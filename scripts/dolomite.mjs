#!/usr/bin/env node
// The command of the package: `dolomite` starts one's own studio, `dolomite demo` the demonstration.
const COMMANDS = ['start', 'demo', 'door', 'sign-in', 'go-back'];

const [word] = process.argv.slice(2);
const named = word !== undefined && !word.startsWith('-');
const command = named ? word : 'start';
if (!COMMANDS.includes(command)) {
  console.error(`There is no command "${command}". Commands: ${COMMANDS.join(', ')}; without one, start.`);
  process.exit(1);
}
if (named) process.argv.splice(2, 1);
await import(`./${command}.mjs`);
