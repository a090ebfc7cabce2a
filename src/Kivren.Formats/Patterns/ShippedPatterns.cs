using Kivren.Core.Content;

namespace Kivren.Formats.Patterns;

/// <summary>The patterns that ship.</summary>
public static class ShippedPatterns
{
    public static readonly IReadOnlyList<Pattern> All = [OperatingManual(), PocketGuide(), InspectionCode()];

    private static Pattern Made(
        string name,
        string says,
        string look,
        IReadOnlyList<Division> divisions,
        params (string Name, string Label, string Text)[] variables
    ) =>
        new(
            name,
            says,
            new Package.Package(
                new Manual(new Id("pattern-" + divisions[0].Id.Value), name, divisions)
                {
                    Look = look,
                    Variables = variables.Select(v => new NamedText(v.Name, v.Text)).ToArray(),
                },
                new Dictionary<string, byte[]>()
            ),
            variables.Select(v => new AskedVariable(v.Name, v.Label)).ToArray()
        );

    private static Pattern OperatingManual()
    {
        var b = new PatternBuilder("Operating manual", "om");
        return Made(
            "Operating manual",
            "For a machine that people run, maintain and repair: three parts, appendices, glossary and index.",
            "Workshop, A5",
            [
                b.Division(
                    DivisionKind.TitlePage,
                    "Title page",
                    b.P("Title", "title"),
                    b.P("Operating and maintenance of the {product}", "subtitle"),
                    b.P("{firm}", "imprint")
                ),
                b.Division(
                    DivisionKind.Legal,
                    "Legal page",
                    b.P("Issue {issue}.", "imprint"),
                    b.P("© {firm}. This manual belongs to the {product} and stays with it when it changes hands.", "imprint")
                ),
                b.Contents(),
                b.Division(
                    DivisionKind.Preface,
                    "About this manual",
                    [
                        b.P("This manual is for the people who run the {product}, who look after it and who mend it."),
                        b.A("How warnings are marked"),
                        .. b.Fixed(
                            b.P("A signal word says how much is at stake."),
                            b.List(
                                ListKind.Unordered,
                                "Danger: death or grave injury follows if the instruction is not kept.",
                                "Warning: death or grave injury may follow.",
                                "Caution: lighter injury may follow.",
                                "Notice: the machine or something near it may be damaged."
                            )
                        ),
                    ]
                ),
                b.Division(DivisionKind.Part, "Operating", b.P("What the people who run the {product} need every day.")),
                b.Division(DivisionKind.Chapter, "The machine and its parts", b.P("What the parts are called and where they are.")),
                b.Division(
                    DivisionKind.Chapter,
                    "Before first use",
                    [
                        .. b.Fixed(
                            b.Admonition(
                                AdmonitionKind.Warning,
                                "Read this chapter to its end before the {product} is switched on for the first time."
                            )
                        ),
                        b.A("What to check"),
                        b.Steps("Check that nothing was damaged on the way.", "Check that all guards are in place."),
                    ]
                ),
                b.Division(DivisionKind.Chapter, "In use", b.A("Starting"), b.Steps("Start here."), b.A("Stopping"), b.Steps("Stop here.")),
                b.Division(DivisionKind.Part, "Maintenance", b.P("What the people who look after the {product} need.")),
                b.Division(DivisionKind.Chapter, "Schedule", b.P("What is done when, and by whom.")),
                b.Division(
                    DivisionKind.Chapter,
                    "Maintenance work",
                    [
                        .. b.Fixed(
                            b.Admonition(AdmonitionKind.Danger, "Switch the {product} off and lock it before anyone opens a guard.")
                        ),
                        b.A("Cleaning"),
                        b.P("How it is cleaned."),
                    ]
                ),
                b.Division(DivisionKind.Part, "Troubleshooting", b.P("What to do when the {product} does not do what it should.")),
                b.Division(DivisionKind.Chapter, "Symptoms and remedies", b.P("Look for the symptom first, then read across.")),
                b.Division(DivisionKind.Appendix, "Technical data", b.P("Dimensions, weights and limits.")),
                b.Division(
                    DivisionKind.Glossary,
                    "Glossary",
                    new DefinitionList(
                        b.Fresh(),
                        [new Definition(b.Fresh(), b.Text("guard"), [b.P("A part that keeps hands away from what moves.")])]
                    )
                    {
                        Glossary = true,
                    }
                ),
            ],
            ("product", "What is the product called?", "product"),
            ("firm", "Which firm makes it?", "firm"),
            ("issue", "Which issue is this?", "1.0")
        );
    }

    private static Pattern PocketGuide()
    {
        var b = new PatternBuilder("Pocket guide", "pg");
        return Made(
            "Pocket guide",
            "For what is carried in a pocket: short chapters, one task each, on small pages.",
            "Pocket",
            [
                b.Division(DivisionKind.TitlePage, "Title page", b.P("Title", "title"), b.P("{product}: what to do when", "subtitle")),
                b.Contents(),
                b.Division(
                    DivisionKind.Chapter,
                    "Every day",
                    b.P("What is done before the {product} is used."),
                    b.Steps("Look round it once.", "Try what stops it.")
                ),
                b.Division(
                    DivisionKind.Chapter,
                    "When something is wrong",
                    [
                        .. b.Fixed(b.Admonition(AdmonitionKind.Danger, "Stop the {product} first. Then look.")),
                        b.A("It does not start"),
                        b.Steps("Look at the switch."),
                    ]
                ),
                b.Division(DivisionKind.Chapter, "Whom to call", b.P("{firm}, {telephone}.")),
            ],
            ("product", "What is the product called?", "product"),
            ("firm", "Whom do people call?", "firm"),
            ("telephone", "Under which number?", "number")
        );
    }

    private static Pattern InspectionCode()
    {
        var b = new PatternBuilder("Inspection code", "ic");
        var reference = b.Fresh();
        return Made(
            "Inspection code",
            "For rules that an inspector holds a thing against: numbered clauses, references, definitions in alphabetical order, annexes.",
            "Code, A4",
            [
                b.Division(
                    DivisionKind.TitlePage,
                    "Title page",
                    b.P("Title", "title"),
                    b.P("{designation}", "subtitle"),
                    b.P("{body}, {year}", "imprint")
                ),
                b.Contents(),
                b.Division(
                    DivisionKind.Preface,
                    "Foreword",
                    [
                        .. b.Fixed(
                            b.P(
                                "This code was prepared by {body}. It says what is inspected and what is found good; it does not "
                                    + "say how a thing is to be built."
                            ),
                            b.P("In this code “shall” is a requirement, “should” a recommendation, and “may” a permission.")
                        ),
                        b.P("This is the first edition."),
                    ]
                ),
                b.Division(
                    DivisionKind.Chapter,
                    "Scope",
                    b.P("This code applies to {subject}."),
                    b.P("It does not apply to what is out of use.")
                ),
                b.Division(
                    DivisionKind.Chapter,
                    "Normative references",
                    [
                        .. b.Fixed(
                            b.P(
                                "The documents named here are needed for the use of this code. Where a date is given, that issue "
                                    + "applies; where none is given, the latest."
                            )
                        ),
                        new ReferenceList(b.Fresh(), [new ReferredDocument(reference, "T-1", b.Text("Terms of inspection"))]),
                    ]
                ),
                b.Division(
                    DivisionKind.Glossary,
                    "Terms and definitions",
                    [
                        .. b.Fixed(b.P("For this code the following terms and definitions apply.")),
                        new DefinitionList(
                            b.Fresh(),
                            [
                                new Definition(b.Fresh(), b.Text("defect"), [b.P("departure from a requirement of this code")]),
                                new Definition(
                                    b.Fresh(),
                                    b.Text("inspection"),
                                    [b.P("examination by a competent person, with or without taking apart")]
                                ),
                                new Definition(b.Fresh(), b.Text("inspector"), [b.P("person whom {body} has named to inspect")]),
                            ]
                        )
                        {
                            Glossary = true,
                        },
                    ]
                ),
                b.Division(
                    DivisionKind.Chapter,
                    "Requirements",
                    b.A("General"),
                    new Paragraph(
                        b.Fresh(),
                        "body",
                        [
                            new TextRun("Inspections shall be carried out and reported as "),
                            new CrossReference(b.Fresh(), reference, "number"),
                            new TextRun(" says."),
                        ]
                    ),
                    b.A("Structure"),
                    b.P("The structure shall show no crack."),
                    b.A("Moving parts"),
                    b.P("Moving parts shall be guarded.")
                ),
                b.Division(
                    DivisionKind.Chapter,
                    "Inspection",
                    b.A("Intervals"),
                    b.P("An inspector shall inspect {subject} once a year."),
                    b.A("Report"),
                    b.P("The report shall contain:"),
                    b.List(
                        ListKind.Alpha,
                        "what was inspected, and when;",
                        "each defect that was found;",
                        "what is to be done, and by when."
                    )
                ),
                b.Division(DivisionKind.Appendix, "Form of the report", b.P("A report in this form fulfils clause 5.")),
            ],
            ("designation", "What is the code's designation?", "designation"),
            ("subject", "What does it apply to?", "the subject"),
            ("body", "Who issues it?", "the issuing body"),
            ("year", "In which year?", "year")
        );
    }
}
