// The kinds of division that can be added, wherever that is.
export const divisionKinds = [
  { kind: 'Chapter', name: 'Chapter' },
  { kind: 'Part', name: 'Part' },
  { kind: 'Appendix', name: 'Appendix' },
  { kind: 'Preface', name: 'Preface' },
  { kind: 'Glossary', name: 'Glossary' },
  { kind: 'Contents', name: 'Contents' },
  { kind: 'Index', name: 'Index' },
  { kind: 'TitlePage', name: 'Title page' },
  { kind: 'HalfTitle', name: 'Half title' },
  { kind: 'Legal', name: 'Legal page' },
  { kind: 'Colophon', name: 'Colophon' },
] as const;
