// Loads the faces of the pages before the first page is shown: the same font files that the PDF embeds.

let loaded: Promise<void> | null = null;

export function loadFaces(): Promise<void> {
  loaded ??= (async () => {
    const faces = (await (await fetch('/api/faces')).json()) as { name: string; family: string }[];
    await Promise.all(
      faces.map(async (f) => {
        const face = new FontFace(f.family, `url(/faces/${f.name}.ttf)`);
        document.fonts.add(await face.load());
      }),
    );
  })().catch((e: unknown) => {
    loaded = null;
    throw e;
  });
  return loaded;
}
