// The faces of pages in scripts that the screen's own faces lack, so that titles and text show on a machine that has none of its own. The
// browser fetches one when a letter of its script is shown.
import { address } from './api';

const square = 'U+2E80-A4CF,U+F900-FAFF,U+FE30-FE4F,U+FF00-FFEF,U+20000-3FFFF';
const hangul = 'U+1100-11FF,U+3130-318F,U+AC00-D7FF';
const arabic = 'U+0600-06FF,U+0750-077F,U+0870-08FF,U+FB50-FDFF,U+FE70-FEFE';
const hebrew = 'U+0590-05FF,U+FB1D-FB4F';
const devanagari = 'U+0900-097F,U+1CD0-1CFF,U+A8E0-A8FF';
const thai = 'U+0E00-0E7F';

/** Files of the faces by the family that tokens.css names, with the letters that each is for. */
const families: [family: string, file: string, letters: string][] = [
  ['Kivren Scripts', 'NotoSansJP', square],
  ['Kivren Scripts', 'NotoSansKR', hangul],
  ['Kivren Scripts', 'NotoSansArabic', arabic],
  ['Kivren Scripts', 'NotoSansHebrew', hebrew],
  ['Kivren Scripts', 'NotoSansDevanagari', devanagari],
  ['Kivren Scripts', 'NotoSansThai', thai],
  ['Kivren Scripts Serif', 'NotoSerifJP', square],
  ['Kivren Scripts Serif zh', 'NotoSerifSC', square],
  ['Kivren Scripts Serif zh-Hant', 'NotoSerifTC', square],
  ['Kivren Scripts Serif', 'NotoSerifKR', hangul],
  ['Kivren Scripts Serif', 'NotoNaskhArabic', arabic],
  ['Kivren Scripts Serif', 'NotoSerifHebrew', hebrew],
  ['Kivren Scripts Serif', 'NotoSerifDevanagari', devanagari],
  ['Kivren Scripts Serif', 'NotoSerifThai', thai],
];

export async function scriptFaces(): Promise<void> {
  const answer = await fetch(address('/api/faces'));
  if (!answer.ok) return;
  const faces = (await answer.json()) as { name: string; address: string }[];
  for (const [family, file, unicodeRange] of families)
    for (const [ending, weight] of [
      ['_400Regular', '400'],
      ['_700Bold', '700'],
    ] as const) {
      const face = faces.find((f) => f.name === file + ending);
      if (face) document.fonts.add(new FontFace(family, `url(${address(`/faces/${face.address}`)})`, { unicodeRange, weight }));
    }
}
