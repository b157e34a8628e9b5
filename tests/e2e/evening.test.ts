import { rundownEvening } from '../lib/rundown-evening';

rundownEvening(3);
