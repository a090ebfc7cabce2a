// A contents list's definition as the server keeps it (docs/package.md), measures in points; and changes to it.

export interface LineDress {
  /** Name of a face that ships, or of one of the look. */
  face: string;
  size: number;
  leading: number;
  before: number;
  tabular: boolean;
}

export interface OwnListLine {
  takes: string;
  dress: LineDress;
  divisions: string[];
  level?: string;
  indent: number;
  numberColumn: number;
  numbered: boolean;
  named: boolean;
  nameAbove: boolean;
  folio: 'after' | 'before' | 'none';
  leader: boolean;
  separator: string;
  runIn: boolean;
  leadsOn: boolean;
}

export interface OwnList {
  name: string;
  scope: 'manual' | 'part' | 'division';
  lines: OwnListLine[];
  sorted: boolean;
  folioColumn: number;
  mostPages: number;
}

const shipped: readonly { face: string; name: string }[] = [
  { face: 'serif', name: 'serif' },
  { face: 'serifItalic', name: 'serif, italic' },
  { face: 'sans', name: 'sans' },
  { face: 'sansItalic', name: 'sans, italic' },
  { face: 'sansStrong', name: 'sans, strong' },
  { face: 'sansBold', name: 'sans, bold' },
  { face: 'code', name: 'code' },
];

/** Faces to choose from: those that ship, and the one that the line has from its look. */
export const facesFor = (own: string) => (shipped.some((f) => f.face === own) ? shipped : [...shipped, { face: own, name: own }]);

export type Piece = 'Number' | 'Title' | 'Leader' | 'Folio';

/** Pieces that a level's line has, in the order they stand. */
export function piecesOf(line: OwnListLine): Piece[] {
  const pieces: Piece[] = [];
  if (line.folio === 'before') pieces.push('Folio');
  if (line.numbered) pieces.push('Number');
  pieces.push('Title');
  if (line.folio === 'after') {
    if (line.leader) pieces.push('Leader');
    pieces.push('Folio');
  }
  return pieces;
}

/** The line with a piece put in, or taken out. The title stays. */
export function withPiece(line: OwnListLine, piece: Piece, on: boolean): OwnListLine {
  switch (piece) {
    case 'Number':
      return { ...line, numbered: on };
    case 'Folio':
      return { ...line, folio: on ? 'after' : 'none' };
    case 'Leader':
      return { ...line, leader: on };
    case 'Title':
      return line;
  }
}

/** The line with its folio moved to the other side of the title. */
export const moved = (line: OwnListLine): OwnListLine => ({ ...line, folio: line.folio === 'before' ? 'after' : 'before' });

/** A further level, dressed like the one before it and indented a little more. */
export function furtherLine(list: OwnList, takes: string, kind: string): OwnListLine {
  const like = list.lines.at(-1);
  const own: OwnListLine = like
    ? { ...like, indent: like.indent + 9 }
    : {
        takes,
        dress: { face: 'serif', size: 9.6, leading: 13, before: 0, tabular: true },
        divisions: [],
        indent: 0,
        numberColumn: 24,
        numbered: true,
        named: false,
        nameAbove: false,
        folio: 'after',
        leader: true,
        separator: '',
        runIn: false,
        leadsOn: false,
      };
  return taking(own, takes, kind);
}

/** The line taking another thing of the manual.
 * @param kind the kind of division or the level of head; '' for the rest */
export function taking(line: OwnListLine, takes: string, kind: string): OwnListLine {
  const lower = takes.toLowerCase();
  const rest = { ...line };
  delete rest.level;
  return {
    ...rest,
    takes: lower,
    divisions: lower === 'division' && kind ? [kind[0]!.toLowerCase() + kind.slice(1)] : [],
    ...(lower === 'head' && kind ? { level: kind.toLowerCase() } : {}),
  };
}

/** Whether a level takes a thing of the manual. */
export function takesKind(line: OwnListLine, takes: string, kind: string): boolean {
  if (line.takes.toLowerCase() !== takes.toLowerCase()) return false;
  if (takes === 'Division') return line.divisions.length === 0 || line.divisions.some((d) => d.toLowerCase() === kind.toLowerCase());
  return takes !== 'Head' || !line.level || line.level.toLowerCase() === kind.toLowerCase();
}

const kindNames: Record<string, string> = { TitlePage: 'title page', HalfTitle: 'half title', Legal: 'legal page' };

/** What a thing of the manual is called where a level chooses it. */
export function kindName(takes: string, kind: string): string {
  if (takes === 'Head') return `${kind} heads`;
  if (takes === 'Division') return kindNames[kind] ?? kind.toLowerCase();
  return `${takes.toLowerCase()}s`;
}
