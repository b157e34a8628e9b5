import { computerSounds } from '~/server/sound/computer-sound';

/** What of the studio's computer can be heard: outputs, and programs that play now. */
export async function loader() {
  return Response.json(await computerSounds());
}
