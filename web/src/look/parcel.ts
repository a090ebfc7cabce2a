// A look's file as it is given away can have the font files in it that it names: they are kept by the server, and the look goes on
// without them.
import { api } from '../shared/api';
import type { Part } from './tree';

interface Parcel {
  faces?: Part[];
  faceFiles?: Record<string, string>;
}

/** The look's own text; what is no such parcel stays as it is.
 * @throws when a font file cannot be used */
export async function opened(text: string, keep: (font: File) => Promise<unknown> = (font) => api.fontFile(font)): Promise<string> {
  let look: Parcel;
  try {
    look = JSON.parse(text) as Parcel;
  } catch {
    return text;
  }
  if (look === null || typeof look !== 'object' || !look.faceFiles) return text;
  const called = new Map(
    (look.faces ?? []).flatMap((face) =>
      Object.values(face)
        .filter((v): v is { hash: string; called: string } => v !== null && typeof v === 'object' && 'hash' in v)
        .map((f) => [f.hash, f.called] as const),
    ),
  );
  for (const [hash, letters] of Object.entries(look.faceFiles)) {
    const bytes = Uint8Array.from(atob(letters), (c) => c.charCodeAt(0));
    await keep(new File([bytes], called.get(hash) ?? 'A font file', { type: 'font/ttf' }));
  }
  delete look.faceFiles;
  return JSON.stringify(look);
}
