using System.Collections.Frozen;

namespace Kivren.Core.Looks;

/// <summary>What a setting of a look is, in words, and within what it can be.</summary>
/// <param name="Words">as a designer calls it</param>
/// <param name="Least">points for a measure, letters for a text; the least number else</param>
/// <param name="Step">by which a key changes it</param>
public sealed record LookSetting(string Words, double Least = 0, double Most = 0, double Step = 1);

/// <summary>All settings of a look, by part and name. A test holds that none is missing and none is too much.</summary>
public static class LookSettings
{
    private const int Text = 200;

    public static LookSetting Of(System.Type part, string name) => All[(part, name)];

    public static readonly FrozenDictionary<(System.Type Part, string Name), LookSetting> All = Make().ToFrozenDictionary();

    private static Dictionary<(System.Type, string), LookSetting> Make()
    {
        var all = new Dictionary<(System.Type, string), LookSetting>();
        var part = typeof(Look);
        void Is(string name, string words, double least = 0, double most = 0, double step = 1) =>
            all.Add((part, name), new LookSetting(words, least, most, step));

        Is("name", "name of the look", 1, 80);
        Is("masters", "page layouts");
        Is("pages", "layouts of pages, where a kind of division names none");
        Is("sequences", "how each kind of division is paged");
        Is("blank", "what a page says that stays blank");
        Is("feet", "where depth goes that a page has left");
        Is("levelFacing", "facing pages end level where the cost allows");
        Is("sided", "divisions wait for their side of the sheet; blank pages come before them");
        Is("screens", "what is otherwise on screens");
        Is("grid", "text stands on a grid of the body’s leading");
        Is("lastPageLines", "least lines on the last page of a division", 0, 20);
        Is("faces", "the house’s own faces");
        Is("colours", "colours, named by use");
        Is("spans", "dress of words by their roles");
        Is("linkColour", "colour of words that lead somewhere", 1, 60);
        Is("dresses", "dress of each role, and where it stands");
        Is("heads", "dress of A to D heads");
        Is("numbersInSide", "numbers hang in the side column");
        Is("runIn", "level of heads that are set into the paragraph behind them");
        Is("numbering", "what carries numbers");
        Is("divisionLabel", "dress of a division’s label");
        Is("divisionTitle", "dress of a division’s title");
        Is("sink", "how far an opening is sunk", 0, 600, .5);
        Is("afterTitle", "space after an opening’s title", 0, 400, .5);
        Is("listText", "dress of lists");
        Is("stepNumber", "dress of step numbers");
        Is("listHang", "hang of lists", 0, 200, .5);
        Is("itemGap", "space between items", 0, 100, .25);
        Is("bullets", "bullets by depth", 1, 4);
        Is("admonitionText", "dress of warnings and notes");
        Is("signalWord", "dress of signal words");
        Is("signal", "where the signal word stands");
        Is("signalColumn", "width of the signal word’s column", 0, 300, .5);
        Is("asideText", "dress of boxed texts");
        Is("asideTitle", "dress of their titles");
        Is("asideBeside", "width of a boxed text beside the text; 0 for the text’s own", 0, 400, .5);
        Is("table", "tables");
        Is("caption", "dress of captions");
        Is("captionLabel", "dress of their labels");
        Is("figureRule", "a rule over figures");
        Is("listingText", "dress of listings");
        Is("noteText", "dress of footnotes");
        Is("noteRule", "length of the rule over footnotes", 0, 800, 1);
        Is("notes", "where notes stand");
        Is("term", "dress of terms in definition lists");
        Is("equationIndent", "indent of equations", 0, 300, .5);
        Is("blocks", "spaces, rules and tints of blocks");
        Is("lists", "contents lists");
        Is("index", "the index");
        Is("referenceForms", "forms of cross-references");
        Is("pageAfterReferences", "print adds the page to every reference");
        Is("repeatedTitlesLeftOut", "a head that only repeats the title above it is left out");
        Is("webAddresses", "what paper says of the web address that words link to");

        part = typeof(ScreenRules);
        Is("sided", "divisions wait for their side of the sheet");
        Is("oneMargin", "margins are the same on all pages");
        Is("pageWords", "references name pages");

        part = typeof(PageMaster);
        Is("name", "name of the layout", 1, 60);
        Is("basedOn", "has the rest from", 1, 60);
        Is("width", "width of the paper", 72, 3_400, 1);
        Is("height", "height of the paper", 72, 3_400, 1);
        Is("inner", "inner margin", 0, 1_000, .5);
        Is("outer", "outer margin", 0, 1_000, .5);
        Is("top", "margin at the head", 0, 1_000, .5);
        Is("foot", "margin at the foot", 0, 1_000, .5);
        Is("mirrored", "the inner margin changes sides");
        Is("sideColumn", "width of the side column", 0, 600, .5);
        Is("sideGap", "gap between side column and text", 0, 100, .5);
        Is("bleed", "bleed", 0, 72, .5);
        Is("columns", "columns", 1, 4);
        Is("gutter", "gutter between columns", 0, 200, .5);
        Is("fields", "running heads and feet");
        Is("headTop", "running head, from the upper edge", 0, 600, .5);
        Is("footBaseline", "running foot, from the lower edge", 0, 600, .5);
        Is("headRuleGap", "gap to the rule under the head; 0 for none", 0, 60, .25);
        Is("footRuleGap", "gap to the rule over the foot; 0 for none", 0, 60, .25);
        Is("headRuleOver", "gap to the rule over the head; 0 for none", 0, 60, .25);
        Is("footRuleUnder", "gap to the rule under the foot; 0 for none", 0, 60, .25);
        Is("furnitureStays", "on turned pages heads and feet stand as on upright ones");
        Is("artwork", "tints and pictures behind the text");

        part = typeof(MasterChoice);
        Is("recto", "right-hand pages", 1, 60);
        Is("verso", "left-hand pages", 1, 60);
        Is("opening", "the page that a division begins on", 1, 60);
        Is("last", "the last page of a division", 1, 60);
        Is("landscape", "pages turned for a wide table", 1, 60);

        part = typeof(PageSequence);
        Is("name", "what it counts together with", 1, 40);
        Is("begins", "where it starts");
        Is("format", "form of its folios");
        Is("count", "how its folios count");
        Is("opens", "number and title open it");
        Is("contents", "contents list under its title", 1, 60);
        Is("pages", "layouts of its pages");

        part = typeof(HouseFace);
        Is("name", "name of the face", 1, 60);
        Is("regular", "file of its regular weight");
        Is("italic", "file of its italic");
        Is("strong", "file of its strong weight");
        Is("strongItalic", "file of its strong italic");
        Is("standIns", "faces that stand in for letters it lacks, in order", 1, 80);

        part = typeof(FontFile);
        Is("hash", "hash of the file", 64, 64);
        Is("called", "name of the file", 1, 120);

        part = typeof(NamedColour);
        Is("name", "name of the colour", 1, 60);
        Is("screen", "on screens", 7, 7);
        Is("print", "in print: 0 black, 100 white", 0, 100);

        part = typeof(SpanDress);
        Is("role", "words that are", 1, 60);
        Is("face", "face", 1, 80);
        Is("size", "size in hundredths of the text’s; 0 as usual", 0, 200);
        Is("smallCapitals", "small capitals");
        Is("capitals", "capitals");
        Is("colour", "colour", 1, 60);

        part = typeof(Artwork);
        Is("x", "from the inner edge", -400, 3_400, .5);
        Is("y", "from the head", -400, 3_400, .5);
        Is("width", "width", .1, 3_800, .5);
        Is("height", "height", .1, 3_800, .5);
        Is("grey", "grey: 0 black, 100 white", 0, 100);
        Is("colour", "colour in place of the grey", 1, 60);
        Is("picture", "picture of the manual", 0, Text);

        part = typeof(BlankPage);
        Is("text", "words on it", 0, Text);
        Is("dress", "their dress");

        part = typeof(RunningField);
        Is("edge", "at the head, at the foot, or free");
        Is("place", "place on the line");
        Is("x", "where it is free: from the inner edge", -72, 3_400, .5);
        Is("y", "where it is free: its baseline, from the upper edge", -72, 3_400, .5);
        Is("height", "height of its picture; 0 as high as a line", 0, 600, .5);
        Is("pattern", "words and sources", 1, 1_000);
        Is("dress", "dress");

        part = typeof(DressRule);
        Is("role", "role", 1, 60);
        Is("dress", "dress");
        Is("within", "only within", 1, 60);
        Is("division", "only in divisions of this kind");

        part = typeof(Dress);
        Is("face", "face", 1, 80);
        Is("size", "size", 4, 144, .1);
        Is("leading", "from line to line", 3.2, 300, .25);
        Is("tracking", "space added between letters", -5, 20, .05);
        Is("tabular", "figures of one width");
        Is("smallCapitals", "small capitals");
        Is("capitals", "capitals");
        Is("oldStyle", "old-style figures");
        Is("colour", "colour", 1, 60);
        Is("alignment", "how lines end");
        Is("hyphenates", "words are divided");
        Is("lettersBefore", "letters before a hyphen, at least", 2, 10);
        Is("lettersAfter", "letters behind a hyphen, at least", 2, 10);
        Is("firstIndent", "indent of the first line", -300, 300, .5);
        Is("left", "indent", 0, 600, .5);
        Is("before", "space above", 0, 600, .25);
        Is("after", "space below", 0, 600, .25);
        Is("tabs", "tab stops");
        Is("ruleAbove", "rule above; 0 for none", 0, 24, .1);
        Is("ruleBelow", "rule below; 0 for none", 0, 24, .1);
        Is("ruleGap", "from rule to text", 0, 60, .25);
        Is("ruleColour", "colour of the rules", 1, 60);
        Is("tint", "tint behind it: 0 black, 100 none", 0, 100);
        Is("tintColour", "colour behind it", 1, 60);
        Is("tintInset", "from the tint’s edge to the text", 0, 60, .5);
        Is("across", "across all columns");
        Is("keepsNext", "keeps with two lines of what follows");
        Is("together", "the page does not turn in it");
        Is("linesAtTurn", "lines that stand together at a turn of the page", 1, 6);
        Is("stretch", "how far its spaces give on a page with white left, percent", 0, 300, 10);

        part = typeof(TabStop);
        Is("position", "position; less than nothing counts from the right", -2_000, 2_000, .5);
        Is("alignment", "what stands at it");
        Is("leader", "sign that fills the way", 1, 4);

        part = typeof(TableDress);
        Is("text", "dress of cells");
        Is("head", "dress of header cells");
        Is("outer", "rules at head and foot; 0 for none", 0, 6, .1);
        Is("underHeader", "rule under the header; 0 for none", 0, 6, .1);
        Is("betweenRows", "rules between rows; 0 for none", 0, 6, .1);
        Is("above", "space above a row’s text", 0, 60, .2);
        Is("below", "space below a row’s text", 0, 60, .2);
        Is("columnGap", "gap between columns", 0, 100, .5);
        Is("groupTint", "tint of rows that head a group: 0 black, 100 white", 0, 100);
        Is("groupColour", "colour of rows that head a group", 1, 60);
        Is("headerTint", "tint behind the header: 0 black, 100 none", 0, 100);
        Is("headerColour", "colour behind the header", 1, 60);
        Is("ruleColour", "colour of its rules", 1, 60);

        part = typeof(BlockMeasures);
        Is("figureBefore", "space above figures", 0, 200, .5);
        Is("figureAfter", "space below figures", 0, 200, .5);
        Is("floatGap", "space about figures at the head or foot of a page", 0, 100, .5);
        Is("figureWithin", "space about figures within a block", 0, 100, .5);
        Is("tableBefore", "space above tables", 0, 200, .5);
        Is("tableAfter", "space below tables", 0, 200, .5);
        Is("tableWithin", "space about tables within a block", 0, 100, .5);
        Is("equationBefore", "space above equations", 0, 200, .5);
        Is("equationAfter", "space below equations", 0, 200, .5);
        Is("equationWithin", "space about equations within a block", 0, 100, .5);
        Is("listingWithin", "space about listings within a block", 0, 100, .5);
        Is("definitionsAfter", "least space below definitions", 0, 100, .5);
        Is("definitionsWithin", "space about definitions within a block", 0, 100, .5);
        Is("definitionGap", "space between terms, beside that of items", 0, 100, .5);
        Is("captionAbove", "space under a caption that stands above", 0, 60, .25);
        Is("captionBelow", "space over a caption that stands below", 0, 60, .25);
        Is("figureRuleGap", "space between the rule over a figure and its picture", 0, 60, .25);
        Is("boxGap", "space between blocks in boxes and warnings", 0, 60, .25);
        Is("boxInset", "from a box’s edge to its text", 0, 60, .5);
        Is("boxTint", "tint of boxes: 0 black, 100 white", 0, 100);
        Is("boxColour", "colour of boxes", 1, 60);
        Is("admonitionColour", "colour of a warning’s rules", 1, 60);
        Is("ruleColour", "colour of rules over figures, at notes and running heads", 1, 60);
        Is("figureCaptionAbove", "a figure’s caption stands over it");
        Is("tableCaptionBelow", "a table’s caption stands under it");
        Is("listingCaptionBelow", "a listing’s caption stands under it");
        Is("besideGap", "between a box and the text that runs round it", 0, 100, .5);
        Is("admonitionAbove", "from a warning’s rule to its text", 0, 60, .2);
        Is("admonitionBelow", "from a warning’s text to its last rule", 0, 60, .2);
        Is("admonitionRule", "rule over a warning", 0, 12, .1);
        Is("admonitionEndRule", "rule under a warning", 0, 12, .1);
        Is("signalGap", "space behind a signal word set into its text", 0, 60, .5);
        Is("listingBar", "bar beside listings", 0, 12, .1);
        Is("listingBarTint", "its tint: 0 black, 100 white", 0, 100);
        Is("listingIndent", "indent of listings", 0, 100, .5);
        Is("markedTint", "tint behind marked lines: 0 black, 100 white", 0, 100);
        Is("numberGap", "between a step’s number and its text", 0, 60, .25);
        Is("bulletGap", "between a bullet and its text", 0, 60, .1);
        Is("bulletHang", "least hang of a bullet", 0, 100, .25);
        Is("notesBefore", "space above the rule over footnotes", 0, 100, .5);
        Is("noteRuleGap", "space under it", 0, 60, .25);
        Is("tableNoteGap", "space above notes under a table", 0, 60, .25);
        Is("figureNoteGap", "space above notes under a figure", 0, 60, .25);
        Is("noteHang", "hang of notes behind their number", 0, 100, .5);
        Is("endNoteGap", "space between notes at a division’s end", 0, 60, .25);
        Is("endNoteRuleGap", "space under the rule over them", 0, 60, .25);
        Is("endNotesBefore", "space above them", 0, 200, .5);
        Is("hairRule", "thickness of rules over figures and notes", 0, 6, .1);

        part = typeof(NumberingRules);
        Is("headsTo", "heads carry numbers to this level");
        Is("captionsBy", "captions count by");
        Is("captionSign", "sign before a caption’s own number", 0, 3);
        Is("headSign", "sign between numbers of heads", 0, 3);
        Is("parts", "parts are counted in");
        Is("chapters", "chapters are counted in");
        Is("appendices", "appendices are counted in");
        Is("chaptersByPart", "chapters begin at 1 in each part");
        Is("notesBy", "notes count by");
        Is("clauses", "paragraphs are numbered clauses");
        Is("notesInSeries", "notes in a run are numbered");
        Is("glossary", "terms are numbered");
        Is("loneAppendixLettered", "an appendix alone has its letter");
        Is("part", "word before a part’s number", 0, 60);
        Is("chapter", "word before a chapter’s number", 0, 60);
        Is("appendix", "word before an appendix’s letter", 0, 60);
        Is("section", "word for a section in references", 0, 60);

        part = typeof(ContentsDefinition);
        Is("name", "name of the list", 1, 60);
        Is("scope", "from how much of the manual it takes");
        Is("lines", "its levels");
        Is("sorted", "sorted by title");
        Is("folioColumn", "column of the folios", 0, 200, .5);
        Is("mostPages", "more pages than this are told; 0 for any number", 0, 1_000);

        part = typeof(ContentsLine);
        Is("kind", "what it takes in");
        Is("dress", "dress");
        Is("divisions", "divisions of these kinds alone");
        Is("level", "heads of this level");
        Is("indent", "indent", 0, 300, .5);
        Is("numberColumn", "column of the number; 0 sets it into the line", 0, 200, .5);
        Is("numbered", "the number is printed");
        Is("named", "the name stands before the number");
        Is("nameAbove", "on a line of its own");
        Is("folio", "where the folio stands");
        Is("leader", "points lead to the folio");
        Is("separator", "sign between title and folio", 0, 10);
        Is("runIn", "set in one paragraph with its like");
        Is("leadsOn", "keeps with the line below");

        part = typeof(IndexDefinition);
        Is("text", "dress of headings and subheadings");
        Is("group", "dress of group heads");
        Is("columns", "columns", 1, 4);
        Is("gutter", "gutter", 0, 100, .5);
        Is("indent", "indent of subheadings", 0, 60, .5);
        Is("runIn", "subheadings run on in the heading’s paragraph");
        Is("joins", "pages that follow one another join to a range");
        Is("elision", "how the end of a range is shortened");
        Is("letterByLetter", "sorted letter by letter");
        Is("groupHeads", "letters over the groups");
        Is("principalBold", "principal locators are bold");
        Is("continued", "word over what goes on from the page before", 1, 40);

        part = typeof(ReferenceForm);
        Is("name", "name in the text", 1, 60);
        Is("label", "name for the writer", 1, 80);
        Is("pattern", "words and sources", 1, 400);
        return all;
    }
}
