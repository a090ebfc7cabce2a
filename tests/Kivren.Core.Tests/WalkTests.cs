using System.Collections;
using System.Reflection;
using CsCheck;
using Kivren.Core.Content;

namespace Kivren.Core.Tests;

/// <summary>The ways through content miss no kind: they are held against a look at every property there is, so that a kind or a
/// property added tomorrow fails here until <see cref="Walk"/> and <see cref="Rebuilding"/> know it.</summary>
public class WalkTests
{
    private static readonly System.Type[] Kinds = typeof(Block).Assembly.GetTypes().Where(t => !t.IsAbstract).ToArray();

    /// <summary>Everything that hangs on an object, found by its properties: records of the content model and lists of them.</summary>
    private static IEnumerable<object> Reach(object thing)
    {
        yield return thing;
        foreach (var property in thing.GetType().GetProperties(BindingFlags.Public | BindingFlags.Instance))
        {
            if (property.GetIndexParameters().Length > 0 || property.PropertyType == typeof(Id))
                continue;
            var value = property.GetValue(thing);
            if (value is IEnumerable list and not string)
            {
                foreach (var inner in list)
                    if (inner is not null && inner.GetType().Namespace == typeof(Block).Namespace && inner.GetType().IsClass)
                        foreach (var reached in Reach(inner))
                            yield return reached;
            }
            else if (value is Block or Inline)
                foreach (var reached in Reach(value))
                    yield return reached;
        }
    }

    private static IEnumerable<Block> BlocksOf(Manual manual) => manual.Divisions.SelectMany(d => d.Blocks);

    [Fact]
    public void The_generator_of_manuals_reaches_every_kind_of_block_and_span()
    {
        var met = new HashSet<System.Type>();
        Check.Sample(
            Rich.Manuals,
            seeds => met.UnionWith(BlocksOf(Rich.Make(seeds)).SelectMany(Reach).Select(o => o.GetType())),
            iter: 400,
            threads: 1,
            seed: "0N0XIzNsQ0O2"
        );
        Assert.Empty(Kinds.Where(k => k.IsSubclassOf(typeof(Block)) || k.IsSubclassOf(typeof(Inline))).Except(met));
    }

    [Fact]
    public void The_walks_meet_every_block_and_every_span_once() =>
        Check.Sample(
            Rich.Manuals,
            seeds =>
            {
                foreach (var block in BlocksOf(Rich.Make(seeds)))
                {
                    var reached = Reach(block).ToList();
                    Assert.Equal(
                        reached.OfType<Block>().Select(b => b.Id.Value).Order(StringComparer.Ordinal),
                        block.WithInner().Select(b => b.Id.Value).Order(StringComparer.Ordinal)
                    );
                    Assert.Equal(
                        reached.OfType<Inline>().ToHashSet(ReferenceEqualityComparer.Instance).Count,
                        block.Inlines().ToHashSet(ReferenceEqualityComparer.Instance).Count
                    );
                    Assert.Equal(reached.OfType<Inline>().Count(), block.Inlines().Count());
                }
            },
            iter: 100
        );

    [Fact]
    public void The_rewriter_changes_every_identity_and_every_run_of_spans() =>
        Check.Sample(
            Rich.Manuals,
            seeds =>
            {
                foreach (var block in BlocksOf(Rich.Make(seeds)))
                {
                    var runs = 0;
                    var rebuilt = block.Rebuilt(
                        id => new Id("new-" + id),
                        spans =>
                        {
                            runs++;
                            return spans.Select(s => s is TextRun r ? r with { Text = "new-" + r.Text } : s).ToArray();
                        }
                    );
                    Assert.Equal(block.WithInner().Sum(b => b.OwnSpans().Count()), runs);
                    foreach (var thing in Reach(rebuilt))
                    {
                        if (thing is not Inline && thing.GetType().GetProperty("Id") is { } own)
                            Assert.StartsWith("new-", ((Id)own.GetValue(thing)!).Value, StringComparison.Ordinal);
                    }
                    foreach (var text in rebuilt.WithInner().SelectMany(b => b.OwnSpans()).SelectMany(s => s).OfType<TextRun>())
                        Assert.StartsWith("new-", text.Text, StringComparison.Ordinal);
                    // With nothing to change it is the same block.
                    Assert.Equal(Shown(block), Shown(block.Rebuilt(id => id, spans => spans)));
                }
            },
            iter: 100
        );

    [Fact]
    public void Pictures_get_other_names_wherever_they_stand() =>
        Check.Sample(
            Rich.Manuals,
            seeds =>
            {
                foreach (var block in BlocksOf(Rich.Make(seeds)))
                foreach (var thing in Reach(block.WithPictures(name => "new-" + name)))
                    if (thing.GetType().GetProperty("Asset") is { } asset)
                        Assert.StartsWith("new-", (string)asset.GetValue(thing)!, StringComparison.Ordinal);
            },
            iter: 100
        );

    [Fact]
    public void What_every_manual_keeps_is_kept_by_the_generator_and_a_double_is_told()
    {
        Check.Sample(Rich.Manuals, seeds => Assert.Empty(ManualCheck.Problems(Rich.Make(seeds))), iter: 100);
        Check.Sample(
            Rich.Manuals.Where(m => m.Any(d => d.Blocks.Count > 0)),
            seeds =>
            {
                var manual = Rich.Make(seeds);
                // Every identity there is, put a second time on another block, is told.
                foreach (var block in BlocksOf(manual).ToList())
                foreach (var thing in Reach(block).Where(t => t is not (TextRun or IndexEntry)))
                    if (thing.GetType().GetProperty("Id") is { } own && own.GetValue(thing) is Id { IsNone: false } id)
                    {
                        var last = manual.Divisions[^1];
                        var doubled = manual with
                        {
                            Divisions = [.. manual.Divisions.SkipLast(1), last with { Blocks = [.. last.Blocks, new PageBreak(id)] }],
                        };
                        Assert.Contains(ManualCheck.Problems(doubled), p => p.StartsWith(id.Value + " ", StringComparison.Ordinal));
                    }
            },
            iter: 10
        );
    }

    /// <summary>A block as text, lists spelled out: records compare lists by reference.</summary>
    private static string Shown(object thing) =>
        string.Join(
            '\n',
            Reach(thing)
                .Select(o =>
                    o.GetType().Name
                    + string.Concat(
                        o.GetType()
                            .GetProperties(BindingFlags.Public | BindingFlags.Instance)
                            .Where(p => p.PropertyType == typeof(string) || p.PropertyType.IsValueType)
                            .Select(p => $" {p.Name}={p.GetValue(o)}")
                    )
                )
        );
}
