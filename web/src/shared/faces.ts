// Loads the faces of the pages before the first page is shown: the same font files that the PDF embeds.
import { address } from './api';

let loaded: Promise<void> | null = null;

const house = new Map<string, Promise<unknown>>();

/** The page as it is; faces of the house that it is drawn in are fetched, and it is drawn anew by the browser when they are here. */
export function withFaces(svg: string): string {
  for (const [, hash] of svg.matchAll(/font-family="Kivren house-([0-9a-f]{64})"/g))
    if (!house.has(hash!)) {
      const face = new FontFace(`Kivren house-${hash}`, `url(${address(`/faces/house-${hash}.ttf`)})`);
      document.fonts.add(face);
      house.set(
        hash!,
        face.load().catch(() => house.delete(hash!)),
      );
    }
  return svg;
}

export function loadFaces(): Promise<void> {
  loaded ??= (async () => {
    const faces = (await (await fetch(address('/api/faces'))).json()) as {
      name: string;
      family: string;
      address: string;
      whenUsed: boolean;
    }[];
    await Promise.all(
      faces.map(async (f) => {
        const face = new FontFace(f.family, `url(${address(`/faces/${f.address}`)})`);
        // The browser fetches the large ones itself for the first page that has their letters.
        document.fonts.add(f.whenUsed ? face : await face.load());
      }),
    );
  })().catch((e: unknown) => {
    loaded = null;
    throw e;
  });
  return loaded;
}
