import type { ShowFacts } from '~/server/shows/show-facts';

/**
 * A show as Home has it; `pictureMs` is when its picture was made, null without one; `bytes` what its files take, null while
 * that is counted.
 */
export type HomeShow = ShowFacts & { pictureMs: number | null; bytes: number | null };
