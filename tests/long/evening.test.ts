import { rundownEvening } from '../lib/rundown-evening';

// Twelve segments in three minutes.
rundownEvening(15);
