// Somebody's own studio: no stand-ins, no demonstration, the data where this system keeps a person's own.
import { launch } from './lib/launch.mjs';
import { ownFolder } from './lib/own-folder.mjs';

await launch({ folder: ownFolder(), demonstration: false });
