using System.Text.Json.Nodes;

namespace Kivren.Desk;

/// <summary>Merges two writers' changes of one block over the text both began with: items, rows and inner blocks by their
/// ids, words by where they stand. What either typed is in the result. The browser does the same with what it has not sent
/// yet (web/src/live/merge.ts); tests/merges.json holds both to the same answers.</summary>
public static class BlockMerge
{
    /// <param name="Both">both replaced the same words: both texts stand, theirs first</param>
    public sealed record Merged(string Body, bool Both);

    /// <param name="mine">the later change</param>
    /// <param name="theirs">the change that is stored</param>
    /// <returns>null when both made different kinds of block of it</returns>
    public static Merged? Merge(string based, string mine, string theirs)
    {
        var both = false;
        return Node(JsonNode.Parse(based), JsonNode.Parse(mine), JsonNode.Parse(theirs), ref both) is { } merged
            ? new Merged(merged.ToJsonString(), both)
            : null;
    }

    private static JsonNode? Node(JsonNode? based, JsonNode? mine, JsonNode? theirs, ref bool both)
    {
        if (JsonNode.DeepEquals(based, mine))
            return theirs?.DeepClone();
        if (JsonNode.DeepEquals(based, theirs) || JsonNode.DeepEquals(mine, theirs))
            return mine?.DeepClone();
        if (based is not JsonObject b || mine is not JsonObject m || theirs is not JsonObject t)
            return null;
        // A block that one made another kind of keeps that kind; two kinds cannot be merged.
        string? was = TypeOf(b),
            own = TypeOf(m),
            other = TypeOf(t);
        if (own != other && own != was && other != was)
            return null;
        var type = own == was ? other : own;
        var holdsText = HoldsText(b) | HoldsText(m) | HoldsText(t);
        // Between a paragraph and a head the words stay; every other kind holds them otherwise, or holds none.
        if (own != other && !(IsLine(own) && IsLine(other) && AllText(b) && AllText(m) && AllText(t)))
            return null;
        var attrs = Attributes(b["attrs"] as JsonObject, m["attrs"] as JsonObject, t["attrs"] as JsonObject);
        var content = holdsText
            ? Spans(b["content"] as JsonArray, m["content"] as JsonArray, t["content"] as JsonArray, ref both)
            : Children(b["content"] as JsonArray, m["content"] as JsonArray, t["content"] as JsonArray, ref both);
        if (content is null)
            return null;
        var merged = new JsonObject { ["type"] = type };
        if (attrs is not null)
            merged["attrs"] = attrs;
        if (content.Count > 0)
            merged["content"] = content;
        return merged;
    }

    private static string? TypeOf(JsonNode? node) =>
        node is JsonObject o && o["type"] is JsonValue v && v.TryGetValue<string>(out var type) ? type : null;

    private static string? IdOf(JsonNode? node) =>
        node is JsonObject o && o["attrs"] is JsonObject attrs && attrs["id"] is JsonValue v && v.TryGetValue<string>(out var id)
            ? id
            : null;

    /// <summary>Kinds of span; everything else that stands in a content is a block or a part of one.</summary>
    private static readonly HashSet<string> SpanTypes = new(StringComparer.Ordinal)
    {
        "text",
        "crossReference",
        "indexEntry",
        "variable",
        "anchor",
        "inlineEquation",
        "inlinePicture",
        "writerNote",
        "lineBreak",
        "footnote",
        "figureArea",
    };

    private static bool HoldsText(JsonObject node) =>
        node["content"] is JsonArray { Count: > 0 } content && content.Any(c => TypeOf(c) is { } type && SpanTypes.Contains(type));

    private static bool IsLine(string? type) => type is "paragraph" or "head";

    private static bool AllText(JsonObject node) =>
        node["content"] is not JsonArray content || content.All(c => TypeOf(c) is { } type && SpanTypes.Contains(type));

    /// <summary>Attribute by attribute; where both changed one, the later stands.</summary>
    private static JsonObject? Attributes(JsonObject? based, JsonObject? mine, JsonObject? theirs)
    {
        if (mine is null && theirs is null)
            return null;
        var merged = new JsonObject();
        foreach (var name in (mine ?? []).Select(a => a.Key).Union((theirs ?? []).Select(a => a.Key)))
        {
            JsonNode? b = based?[name],
                m = mine?[name],
                t = theirs?[name];
            var stands = JsonNode.DeepEquals(b, m) ? t : m;
            if (stands is not null || (mine?.ContainsKey(name) ?? false))
                merged[name] = stands?.DeepClone();
        }
        return merged;
    }

    // ---- parts with identities ----

    /// <summary>A part is itself by its id; those without one (caption, lines) by their kind, of which there is one.</summary>
    private sealed class Part(string key, JsonNode node)
    {
        public string Key { get; } = key;
        public JsonNode Node { get; } = node;

        public static readonly IEqualityComparer<Part> ByKey = EqualityComparer<Part>.Create(
            (a, b) => a!.Key == b!.Key,
            p => p.Key.GetHashCode(StringComparison.Ordinal)
        );
    }

    private static List<Part> Parts(JsonArray? content)
    {
        var parts = new List<Part>();
        foreach (var node in content ?? [])
            if (node is not null)
                parts.Add(new Part(IdOf(node) ?? "kind " + TypeOf(node), node));
        return parts;
    }

    private static JsonArray? Children(JsonArray? based, JsonArray? mine, JsonArray? theirs, ref bool both)
    {
        List<Part> b = Parts(based),
            m = Parts(mine),
            t = Parts(theirs);
        Dictionary<string, JsonNode> inBase = ByKey(b),
            inMine = ByKey(m),
            inTheirs = ByKey(t);
        var apart = false;
        var order = SequenceMerge.Of(
            b,
            m,
            t,
            SequenceDifference.Of(b, m, Part.ByKey),
            SequenceDifference.Of(b, t, Part.ByKey),
            Part.ByKey,
            null,
            ref apart
        );
        // A part that one side took out while the other wrote in it stays, where it stood.
        for (var i = 0; i < b.Count; i++)
        {
            var key = b[i].Key;
            if (order.Exists(p => p.Key == key))
                continue;
            var left = inMine.GetValueOrDefault(key) ?? inTheirs.GetValueOrDefault(key);
            if (left is null || JsonNode.DeepEquals(left, b[i].Node))
                continue;
            var before = i == 0 ? -1 : order.FindIndex(p => p.Key == b[i - 1].Key);
            order.Insert(before + 1, new Part(key, left));
        }
        var merged = new JsonArray();
        var seen = new HashSet<string>(StringComparer.Ordinal);
        foreach (var part in order)
        {
            // One that both moved stands once.
            if (!seen.Add(part.Key))
                continue;
            JsonNode? was = inBase.GetValueOrDefault(part.Key),
                own = inMine.GetValueOrDefault(part.Key),
                other = inTheirs.GetValueOrDefault(part.Key);
            var node = was is null || own is null || other is null ? (own ?? other ?? was)!.DeepClone() : Node(was, own, other, ref both);
            if (node is null)
                return null;
            merged.Add(node);
        }
        return merged;
    }

    private static Dictionary<string, JsonNode> ByKey(List<Part> parts)
    {
        var found = new Dictionary<string, JsonNode>(StringComparer.Ordinal);
        foreach (var part in parts)
            found.TryAdd(part.Key, part.Node);
        return found;
    }

    // ---- words ----

    /// <summary>A letter with its marks, or an atom between letters with its identity.</summary>
    private sealed record Token(string Text, string Marks, string? Atom, JsonNode? Node)
    {
        public bool IsWord =>
            Atom is null
            && Text.Length > 0
            && System.Text.Rune.TryGetRuneAt(Text, 0, out var rune)
            && System.Text.Rune.IsLetterOrDigit(rune);

        public static readonly IEqualityComparer<Token> Same = EqualityComparer<Token>.Create(
            (a, b) => a!.Atom is null ? b!.Atom is null && a.Text == b.Text && a.Marks == b.Marks : a.Atom == b!.Atom,
            t => (t.Atom ?? t.Text).GetHashCode(StringComparison.Ordinal)
        );
    }

    private static List<Token> Tokens(JsonArray? content)
    {
        var tokens = new List<Token>();
        foreach (var node in content ?? [])
        {
            if (node is not JsonObject span)
                continue;
            if (TypeOf(span) == "text" && span["text"] is JsonValue v && v.TryGetValue<string>(out var text))
            {
                var marks = span["marks"]?.ToJsonString() ?? "";
                for (var i = 0; i < text.Length; i++)
                {
                    var pair = char.IsHighSurrogate(text[i]) && i + 1 < text.Length;
                    tokens.Add(new Token(text.Substring(i, pair ? 2 : 1), marks, null, null));
                    if (pair)
                        i++;
                }
            }
            else
                tokens.Add(new Token("", "", IdOf(span) ?? span.ToJsonString(), span));
        }
        return tokens;
    }

    private static JsonArray? Spans(JsonArray? based, JsonArray? mine, JsonArray? theirs, ref bool both)
    {
        List<Token> b = Tokens(based),
            m = Tokens(mine),
            t = Tokens(theirs);
        var merged = SequenceMerge.Of(b, m, t, Hunks(b, m), Hunks(b, t), Token.Same, new Token(" ", "", null, null), ref both);
        Dictionary<string, JsonNode> inBase = Atoms(b),
            inMine = Atoms(m),
            inTheirs = Atoms(t);
        var spans = new JsonArray();
        var run = new System.Text.StringBuilder();
        string marks = "";
        void End()
        {
            if (run.Length == 0)
                return;
            var text = new JsonObject { ["type"] = "text", ["text"] = run.ToString() };
            if (marks.Length > 0)
                text["marks"] = JsonNode.Parse(marks);
            spans.Add(text);
            run.Clear();
        }
        var atoms = new HashSet<string>(StringComparer.Ordinal);
        foreach (var token in merged)
        {
            if (token.Atom is { } atom)
            {
                End();
                JsonNode? was = inBase.GetValueOrDefault(atom),
                    own = inMine.GetValueOrDefault(atom),
                    other = inTheirs.GetValueOrDefault(atom);
                if (IdOf(token.Node) is not null && !atoms.Add(atom))
                    continue;
                var node =
                    was is null || own is null || other is null ? (own ?? other ?? was)!.DeepClone() : Node(was, own, other, ref both);
                if (node is null)
                    return null;
                spans.Add(node);
                continue;
            }
            if (token.Marks != marks)
                End();
            marks = token.Marks;
            run.Append(token.Text);
        }
        End();
        return spans;
    }

    private static Dictionary<string, JsonNode> Atoms(List<Token> tokens)
    {
        var found = new Dictionary<string, JsonNode>(StringComparer.Ordinal);
        foreach (var token in tokens)
            if (token.Atom is { } atom)
                found.TryAdd(atom, token.Node!);
        return found;
    }

    /// <summary>Where letters only came, or only went, it is told letter by letter. Else word by word, so that two words which
    /// share letters are not mixed; then each run is cut to the letters that really changed.</summary>
    private static List<Hunk> Hunks(List<Token> before, List<Token> now)
    {
        var letters = SequenceDifference.Of(before, now, Token.Same);
        if (letters.TrueForAll(h => h.IsInsertion) || letters.TrueForAll(h => h.IsDeletion))
            return AtWords(before, now, letters);
        List<Word> b = Words(before),
            n = Words(now);
        var hunks = new List<Hunk>();
        foreach (var hunk in SequenceDifference.Of(b, n, Word.Same))
        {
            int from = b.Count == hunk.From ? before.Count : b[hunk.From].At,
                to = b.Count == hunk.To ? before.Count : b[hunk.To].At;
            int start = n.Count == hunk.Start ? now.Count : n[hunk.Start].At,
                end = n.Count == hunk.End ? now.Count : n[hunk.End].At;
            hunks.AddRange(Letters(before, now, new Hunk(from, to, start, end)));
        }
        return AtWords(before, now, hunks);
    }

    /// <summary>The letters of a run that changed, where at least half of it still stands; else the whole run: another word.</summary>
    private static List<Hunk> Letters(List<Token> before, List<Token> now, Hunk run)
    {
        var letters = SequenceDifference.Of(
            before.GetRange(run.From, run.To - run.From),
            now.GetRange(run.Start, run.End - run.Start),
            Token.Same
        );
        var gone = letters.Sum(h => h.To - h.From);
        if (gone * 2 > run.To - run.From)
            return [run];
        return [.. letters.Select(h => new Hunk(h.From + run.From, h.To + run.From, h.Start + run.Start, h.End + run.Start))];
    }

    /// <summary>Where the same letters stand before and behind, it cannot be told which of them came: then it was whole words.
    /// Each run of letters that only came, or only went, is moved to where it begins or ends with a word.</summary>
    private static List<Hunk> AtWords(List<Token> before, List<Token> now, List<Hunk> hunks)
    {
        for (var h = 0; h < hunks.Count; h++)
        {
            var hunk = hunks[h];
            if (hunk.IsInsertion == hunk.IsDeletion)
                continue;
            var (text, from, length) = hunk.IsInsertion
                ? (now, hunk.Start, hunk.End - hunk.Start)
                : (before, hunk.From, hunk.To - hunk.From);
            var low = h > 0 ? hunks[h - 1] : default;
            var least = hunk.IsInsertion ? low.End : low.To;
            var most = h + 1 < hunks.Count ? (hunk.IsInsertion ? hunks[h + 1].Start : hunks[h + 1].From) : text.Count;
            var right = 0;
            while (from + right + length < most && Token.Same.Equals(text[from + right], text[from + right + length]))
                right++;
            int best = 0,
                score = -1;
            for (var move = right; from + move >= least; move--)
            {
                var ends = (Edge(text, from + move) ? 1 : 0) + (Edge(text, from + move + length) ? 1 : 0);
                if (ends > score)
                    (best, score) = (move, ends);
                if (from + move <= least || !Token.Same.Equals(text[from + move - 1], text[from + move + length - 1]))
                    break;
            }
            hunks[h] = new Hunk(hunk.From + best, hunk.To + best, hunk.Start + best, hunk.End + best);
        }
        return hunks;
    }

    /// <summary>Whether a word begins at a place, or the text begins or ends there.</summary>
    private static bool Edge(List<Token> text, int at) => at == 0 || at == text.Count || (!text[at - 1].IsWord && text[at].IsWord);

    private sealed record Word(string Key, int At)
    {
        public static readonly IEqualityComparer<Word> Same = EqualityComparer<Word>.Create(
            (a, b) => a!.Key == b!.Key,
            w => w.Key.GetHashCode(StringComparison.Ordinal)
        );
    }

    private static List<Word> Words(List<Token> tokens)
    {
        var words = new List<Word>();
        for (var i = 0; i < tokens.Count; )
        {
            var start = i;
            var key = new System.Text.StringBuilder();
            do
            {
                key.Append(tokens[i].Atom is { } atom ? "\u0001" + atom : tokens[i].Text).Append('\u0002').Append(tokens[i].Marks);
                i++;
            } while (tokens[start].IsWord && i < tokens.Count && tokens[i].IsWord);
            words.Add(new Word(key.ToString(), start));
        }
        return words;
    }
}
