// What lists that every manual can have are called. A list of the manual's own is called by its name.
const titles: Record<string, string> = {
  contents: 'Contents',
  brief: 'Contents in brief',
  figures: 'List of figures',
  tables: 'List of tables',
  listings: 'List of listings',
  equations: 'List of equations',
  examples: 'List of examples',
  division: 'Contents of a chapter',
  part: 'Contents of a part',
};

export const listTitle = (name: string) => titles[name] ?? name;
