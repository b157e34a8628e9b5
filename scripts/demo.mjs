// One command: installs what is missing, builds when stale, starts everything with the demonstration show and its stand-ins.
import { launch } from './lib/launch.mjs';
import { demonstrationFolder } from './lib/own-folder.mjs';

await launch({ folder: demonstrationFolder(), demonstration: true });
