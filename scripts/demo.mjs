// One command: installs what is missing, builds when stale, starts everything with the demonstration show and its stand-ins.
import path from 'node:path';
import { launch } from './lib/launch.mjs';
import { root } from './lib/prepare.mjs';

await launch({ folder: path.join(root, 'data'), demonstration: true });
