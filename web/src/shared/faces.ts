// Loads the faces of the pages before the first page is shown: the same font files that the PDF embeds.
import { address } from './api';

let loaded: Promise<void> | null = null;

export function loadFaces(): Promise<void> {
  loaded ??= (async () => {
    const faces = (await (await fetch(address('/api/faces'))).json()) as { name: string; family: string; address: string }[];
    await Promise.all(
      faces.map(async (f) => {
        const face = new FontFace(f.family, `url(${address(`/faces/${f.address}`)})`);
        document.fonts.add(await face.load());
      }),
    );
  })().catch((e: unknown) => {
    loaded = null;
    throw e;
  });
  return loaded;
}
