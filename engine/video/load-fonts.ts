import { messageOf } from '../../core/fault';

/** Loads the faces that words on the picture are drawn with. @param failed told of each that does not come */
export async function loadFonts(
  fonts: readonly { family: string; url: string }[],
  into: FontFaceSet,
  failed: (message: string) => void,
): Promise<void> {
  await Promise.all(
    fonts.map(async ({ family, url }) => {
      try {
        into.add(await new FontFace(family, `url(${url})`, { weight: '100 900' }).load());
      } catch (error) {
        failed(`The font ${family} could not be loaded: ${messageOf(error)}`);
      }
    }),
  );
}
